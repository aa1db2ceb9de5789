-- Instruments, cross-check sheets, calibrations; protocols of resistance and the readings of all seven methods.

create table instrument (
  id            integer generated always as identity primary key,
  -- Short, since it is typed at the bench.
  code          text not null unique check (code ~ '^[A-Z][A-Z0-9]{1,5}$'),
  name          text not null check (name <> ''),
  kind          text not null check (kind in ('meter', 'checker', 'charger', 'load', 'logger')),
  channels      integer not null default 1 check (channels between 1 and 32),
  wires         integer check (wires in (2, 4)),
  lead_gauge    integer check (lead_gauge between 0 and 40),
  lead_length_m double precision check (lead_length_m > 0 and lead_length_m < 20),
  certified     boolean not null default false,
  recorded_at   timestamptz not null default now(),
  archived_at   timestamptz,
  check ((lead_gauge is null) = (lead_length_m is null))
);

create table instrument_range (
  instrument_id   integer not null references instrument,
  quantity        text not null check (quantity in ('voltage', 'current', 'resistance')),
  resolution      double precision not null check (resolution > 0),
  accuracy_share  double precision not null default 0 check (accuracy_share >= 0 and accuracy_share < 1),
  accuracy_counts double precision not null default 0 check (accuracy_counts >= 0),
  primary key (instrument_id, quantity)
);

create table cross_check (
  id          integer generated always as identity primary key,
  name        text not null check (name <> ''),
  opened_at   timestamptz not null default now()
);

create table cross_check_battery (
  cross_check_id integer not null references cross_check,
  position       integer not null check (position > 0),
  label          text not null check (label <> ''),
  primary key (cross_check_id, position)
);

create table cross_check_reading (
  id             integer generated always as identity primary key,
  entry          uuid not null,
  cross_check_id integer not null,
  position       integer not null,
  instrument_id  integer not null references instrument,
  channel        integer not null check (channel > 0),
  voltage_v      double precision not null check (voltage_v between -100 and 100),
  step           double precision not null check (step > 0),
  confirmed      boolean not null default false,
  taken_at       timestamptz not null default now(),
  recorded_at    timestamptz not null default now(),
  voided_at      timestamptz,
  void_reason    text check (void_reason <> ''),
  unique (entry, channel),
  check ((voided_at is null) = (void_reason is null)),
  foreign key (cross_check_id, position) references cross_check_battery
);
create index on cross_check_reading (cross_check_id, position, instrument_id, channel, id desc) where voided_at is null;
create trigger keep before update or delete on cross_check_reading for each row execute function keep_fact();

-- A correction that was adopted: error = offset + gain × reading, from its date on until it is withdrawn.
create table calibration (
  id              integer generated always as identity primary key,
  instrument_id   integer not null references instrument,
  channel         integer not null check (channel > 0),
  kind            text not null check (kind in ('offset', 'line')),
  offset_v        double precision not null,
  offset_u        double precision not null check (offset_u >= 0),
  gain            double precision not null,
  gain_u          double precision not null check (gain_u >= 0),
  covariance      double precision not null,
  residual_v      double precision not null check (residual_v >= 0),
  -- Null where the levels' own uncertainties carry the doubt.
  degrees         integer check (degrees > 0),
  cross_check_id  integer references cross_check,
  reference       text not null check (reference <> ''),
  calibrated_at   timestamptz not null default now(),
  recorded_at     timestamptz not null default now(),
  voided_at       timestamptz,
  void_reason     text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null)),
  check (kind = 'line' or gain = 0)
);
create index on calibration (instrument_id, channel, calibrated_at desc) where voided_at is null;
create trigger keep before update or delete on calibration for each row execute function keep_fact();

create table protocol (
  id          integer generated always as identity primary key,
  name        text not null unique check (name <> ''),
  -- Which school of practitioners measures so, in a sentence.
  school      text not null default '',
  method      text not null check (method in ('ac-meter', 'resistor', 'ammeter', 'preload', 'two-current', 'pulse', 'told')),
  -- State of charge as a share; null where any will do.
  charge_from double precision check (charge_from between 0 and 1),
  charge_to   double precision check (charge_to between 0 and 1),
  warmest_c   double precision check (warmest_c between -30 and 80),
  coldest_c   double precision check (coldest_c between -30 and 80),
  rest_s      double precision not null default 0 check (rest_s >= 0),
  -- Rate of the load, or of the charge for figures told by a charger, 1/h.
  rate_c      double precision check (rate_c > 0),
  -- When the figure is read, after the load or the charge came on.
  hold_s      double precision not null check (hold_s > 0 and hold_s <= 3600),
  recorded_at timestamptz not null default now(),
  archived_at timestamptz,
  check ((charge_from is null) = (charge_to is null) and charge_from <= charge_to),
  check ((coldest_c is null) = (warmest_c is null) and coldest_c <= warmest_c)
);
insert into protocol (name, school, method, charge_from, charge_to, coldest_c, warmest_c, rest_s, rate_c, hold_s) values
  ('Full and rested', 'Fully charged, rested an hour: what a 1 kHz meter is usually used for.', 'ac-meter', 0.93, 1, 15, 28, 3600, null, 1),
  ('At storage charge', 'At storage charge, since a full cell flatters.', 'ammeter', 0.3, 0.7, 15, 28, 3600, null, 10),
  ('Minute one of a brisk charge', 'During charge at 1.5C, at the one-minute mark, within half a degree.', 'told', null, null, 22, 22.5, 0, 1.5, 60),
  ('Resistor at hand', 'No school: what one resistor and a voltmeter allow.', 'resistor', null, null, null, null, 0, null, 10),
  ('Steps in logs', 'Steps of current found in the logs of discharges.', 'pulse', null, null, null, null, 0, null, 10);

alter table round drop constraint round_method_check;
alter table round add constraint round_method_check check (method in ('ac-meter', 'resistor', 'ammeter', 'preload', 'two-current', 'pulse', 'told'));
alter table round add column protocol_id integer references protocol;
alter table round add column instrument_id integer references instrument;
alter table round add column ammeter_id integer references instrument;
-- Whether the zero of a resistance meter was taken; null where nobody noted it.
alter table round add column zero_taken boolean;
-- Rounds from before protocols get one that says what they were.
insert into protocol (name, method, charge_from, charge_to, hold_s)
  select distinct case method when 'resistor' then 'Resistor' else 'Ammeter' end || ', ' || charge_state || ', ' || hold_s || ' s', method,
    case charge_state when 'full' then 0.93 when 'storage' then 0.3 end, case charge_state when 'full' then 1 when 'storage' then 0.7 end, hold_s
  from round;
update round set protocol_id = protocol.id from protocol
  where protocol.name = case round.method when 'resistor' then 'Resistor' else 'Ammeter' end || ', ' || charge_state || ', ' || round.hold_s || ' s';
alter table round alter protocol_id set not null;
alter table round drop column charge_state;
alter table round drop column hold_s;
create index on round (protocol_id);

alter table cell_model add column board boolean not null default false;
alter table cell_model add column as_new_ohm double precision check (as_new_ohm > 0);

alter table reading drop constraint reading_kind_check;
alter table reading add constraint reading_kind_check check (kind in ('voltage', 'mass', 'inspection', 'load-step', 'two-current', 'resistance', 'pulse'));
alter table reading add column instrument_id integer references instrument;
alter table reading add column channel integer check (channel > 0);
alter table reading add column temperature_c double precision check (temperature_c between -60 and 150);
alter table reading add column resistance_ohm double precision check (resistance_ohm between -1 and 1000);
alter table reading add column at_low_v double precision check (at_low_v between -100 and 100);
alter table reading add column at_high_v double precision check (at_high_v between -100 and 100);
alter table reading add column low_current_a double precision check (low_current_a >= 0 and low_current_a < 1000);
alter table reading add column high_current_a double precision check (high_current_a > 0 and high_current_a < 1000);
alter table reading add column run_id integer references run;
alter table reading add column at_s double precision check (at_s >= 0);
alter table reading add check ((kind = 'resistance') = (resistance_ohm is not null));
alter table reading add check ((kind = 'two-current') = (at_low_v is not null and at_high_v is not null and low_current_a is not null and high_current_a is not null));
alter table reading add check ((kind = 'pulse') = (run_id is not null and at_s is not null));
alter table reading add check (kind not in ('resistance', 'two-current', 'pulse') or round_id is not null);
alter table reading drop constraint reading_check5;
alter table reading add constraint reading_step_known check (kind in ('inspection', 'pulse') or step is not null);

alter table pack_round add column instrument_id integer references instrument;
alter table pack_round add column terminal_instrument_id integer references instrument;

-- A calibration that comes or goes changes what the readings of its instrument mean.
create function note_corrected_cells() returns trigger language plpgsql as $$
begin
  insert into cell_change
    select distinct reading.cell_id, pg_current_xact_id() from changed join reading on reading.instrument_id = changed.instrument_id order by cell_id
  on conflict (cell_id) do update set changed_by = excluded.changed_by;
  return null;
end $$;
create trigger note_added after insert on calibration referencing new table as changed for each statement execute function note_corrected_cells();
create trigger note_voided after update on calibration referencing new table as changed for each statement execute function note_corrected_cells();
create index on reading (instrument_id) where instrument_id is not null;

-- A rest tells how long the cells of its batch had rested when they were read.
create function note_rested_cells() returns trigger language plpgsql as $$
begin
  insert into cell_change
    select distinct cell.id, pg_current_xact_id() from changed join cell on cell.batch_id = changed.batch_id order by cell.id
  on conflict (cell_id) do update set changed_by = excluded.changed_by;
  return null;
end $$;
create trigger note_added after insert on rest referencing new table as changed for each statement execute function note_rested_cells();
create trigger note_voided after update on rest referencing new table as changed for each statement execute function note_rested_cells();
