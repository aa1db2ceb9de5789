-- The most that the label of a cell or pack allows.
create table label_limits (
  entry_id    integer primary key references entry,
  charge_a    double precision check (charge_a > 0 and charge_a < 10000),
  discharge_a double precision check (discharge_a > 0 and discharge_a < 10000),
  check (charge_a is not null or discharge_a is not null)
);
create trigger keep before update or delete on label_limits for each statement execute function keep_body();

alter table cell_model
  add column charge_a double precision check (charge_a > 0 and charge_a < 10000),
  add column discharge_a double precision check (discharge_a > 0 and discharge_a < 10000);

alter table charger
  -- Below this the charger does not recognise a pack; null: not known.
  add column lowest_pack_v double precision check (lowest_pack_v >= 0),
  -- Groups that it can balance; null: as many as are connected.
  add column balance_channels integer check (balance_channels between 1 and 100);

-- The reasons in it have other codes now. It is made again when the next person looks.
delete from planned;
delete from bench_plan;
