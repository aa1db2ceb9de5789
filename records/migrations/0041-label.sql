-- The most that the label of a pack allows, and whether it has a balance connector.
create table label (
  entry_id    integer primary key references entry,
  charge_a    double precision check (charge_a > 0 and charge_a < 10000),
  discharge_a double precision check (discharge_a > 0 and discharge_a < 10000),
  balance_connector boolean,
  check (charge_a is not null or discharge_a is not null or balance_connector is not null)
);
create trigger keep before update or delete on label for each statement execute function keep_body();

alter table cell_model
  add column charge_a double precision check (charge_a > 0 and charge_a < 10000),
  add column discharge_a double precision check (discharge_a > 0 and discharge_a < 10000);

alter table charger
  -- Below this the charger does not recognise a pack; null: not known.
  add column lowest_pack_v double precision check (lowest_pack_v >= 0),
  -- Groups that it can balance; null: as many as are connected.
  add column balance_channels integer check (balance_channels between 1 and 100);

-- What each group gets or gives, so that the steps stay in view; null: begun before this was kept.
alter table remedy
  add column move_positions integer[],
  add column move_ah double precision[],
  add column move_stop_v double precision[],
  add column pack_v double precision,
  add column connector text check (connector in ('balance', 'taps', 'none'));

-- Balancing is due where it has to come before storage.
alter table put_off drop constraint put_off_act_check;
alter table put_off
  add constraint put_off_act_check
  check (act in ('down-to-storage', 'up-to-storage', 'to-full', 'balance', 'look', 'resistance', 'hold-reading',
    'calibrate'));

-- The reasons in it have other codes now. It is made again when the next person looks.
delete from planned;
delete from bench_plan;
