-- Facts are stored once and for ever: a mistake is voided with a reason, never changed or deleted.

create function keep_fact() returns trigger language plpgsql as $$
begin
  if tg_op = 'UPDATE'
     and old.voided_at is null
     and to_jsonb(old) - 'voided_at' - 'void_reason' = to_jsonb(new) - 'voided_at' - 'void_reason' then
    return new;
  end if;
  raise exception 'facts are kept: void the % with a reason instead', tg_table_name using errcode = 'restrict_violation';
end $$;

create function keep_samples() returns trigger language plpgsql as $$
begin
  raise exception 'samples are kept: void their run instead' using errcode = 'restrict_violation';
end $$;

create domain chemistry as text
  check (value in ('li-ion', 'lipo', 'lihv', 'lfp', 'nimh', 'nicd', 'sla', 'alkaline'));

create table batch (
  id          integer generated always as identity primary key,
  code        text not null unique check (code ~ '^[A-Z][A-Z0-9]{0,5}$'),
  origin      text not null check (origin <> ''),
  received_at timestamptz not null default now()
);

create table cell_model (
  id                    integer generated always as identity primary key,
  maker                 text not null check (maker <> ''),
  name                  text not null check (name <> ''),
  chemistry             chemistry not null,
  rated_capacity_ah     double precision not null check (rated_capacity_ah > 0 and rated_capacity_ah < 1000),
  mass_kg               double precision check (mass_kg > 0 and mass_kg < 100),
  unique (maker, name)
);

create table cell (
  id          integer generated always as identity primary key,
  code        text not null unique check (code ~ '^[A-Z][A-Z0-9]{0,5}-[0-9]{3,5}$'),
  batch_id    integer not null references batch,
  model_id    integer not null references cell_model,
  place       integer not null check (place > 0),
  bond        text check (bond <> ''),
  rescues     integer not null default 0 check (rescues >= 0),
  recorded_at timestamptz not null default now(),
  unique (batch_id, place)
);
create index on cell (model_id);

-- A protocol applied to a batch: readings are compared only within one.
create table round (
  id                    integer generated always as identity primary key,
  batch_id              integer not null references batch,
  method                text not null check (method in ('resistor', 'ammeter')),
  load_resistance_ohm   double precision check (load_resistance_ohm > 0),
  load_tolerance        double precision check (load_tolerance >= 0 and load_tolerance < 1),
  load_rating_w         double precision check (load_rating_w > 0),
  hold_s                double precision not null check (hold_s > 0 and hold_s <= 600),
  charge_state          text not null check (charge_state in ('full', 'storage', 'any')),
  temperature_c         double precision check (temperature_c between -30 and 80),
  opened_at             timestamptz not null default now(),
  check ((method = 'resistor') = (load_resistance_ohm is not null))
);
create index on round (batch_id);

create table reading (
  id           integer generated always as identity primary key,
  -- One typed line is one entry, filed once however often it is sent.
  entry        uuid not null,
  cell_id      integer not null references cell,
  kind         text not null check (kind in ('voltage', 'mass', 'inspection', 'load-step')),
  round_id     integer references round,
  voltage_v    double precision check (voltage_v between -100 and 100),
  mass_kg      double precision check (mass_kg > 0 and mass_kg < 100),
  findings     text[],
  open_v       double precision check (open_v between -100 and 100),
  loaded_v     double precision check (loaded_v between -100 and 100),
  after_v      double precision check (after_v between -100 and 100),
  current_a    double precision check (current_a > 0 and current_a < 1000),
  -- Last digit shown, in the unit of the value; of the voltages for a load step.
  step         double precision check (step > 0),
  current_step double precision check (current_step > 0),
  -- It was asked about and confirmed.
  confirmed    boolean not null default false,
  taken_at     timestamptz not null default now(),
  recorded_at  timestamptz not null default now(),
  voided_at    timestamptz,
  void_reason  text check (void_reason <> ''),
  unique (entry, kind),
  check ((voided_at is null) = (void_reason is null)),
  check ((kind = 'voltage') = (voltage_v is not null)),
  check ((kind = 'mass') = (mass_kg is not null)),
  check ((kind = 'inspection') = (findings is not null)),
  check ((kind = 'load-step') = (open_v is not null and loaded_v is not null and round_id is not null)),
  check (kind = 'inspection' or step is not null)
);
create index on reading (cell_id, kind, id desc) where voided_at is null;
create index on reading (round_id) where round_id is not null;
create trigger keep before update or delete on reading for each row execute function keep_fact();

create table run (
  id                  integer generated always as identity primary key,
  cell_id             integer not null references cell,
  file_name           text not null,
  content_sha256      bytea not null check (length(content_sha256) = 32),
  load_kind           text not null check (load_kind in ('resistor', 'current', 'column')),
  load_resistance_ohm double precision check (load_resistance_ohm > 0),
  load_current_a      double precision check (load_current_a > 0),
  voltage_step_v      double precision not null check (voltage_step_v > 0),
  samples             integer not null check (samples > 1),
  -- What the reader of the file understood and passed over.
  columns             jsonb not null,
  notices             jsonb not null,
  ended_at            timestamptz not null,
  recorded_at         timestamptz not null default now(),
  voided_at           timestamptz,
  void_reason         text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null)),
  check ((load_kind = 'resistor') = (load_resistance_ohm is not null)),
  check ((load_kind = 'current') = (load_current_a is not null))
);
create index on run (cell_id, id desc);
create unique index run_content_once on run (content_sha256) where voided_at is null;
create trigger keep before update or delete on run for each row execute function keep_fact();

create table sample (
  run_id        integer not null,
  seq           integer not null check (seq >= 0),
  time_s        double precision not null check (time_s >= 0),
  voltage_v     double precision not null,
  current_a     double precision,
  temperature_c double precision,
  primary key (run_id, seq)
);
create trigger keep before update or delete on sample for each statement execute function keep_samples();

-- A foreign key would look the run up again for each of a million samples of one COPY; this looks once a statement.
create function samples_need_a_run() returns trigger language plpgsql as $$
begin
  if exists (select from (select distinct run_id from added) given where not exists (select from run where id = given.run_id)) then
    raise exception 'samples without a run' using errcode = 'foreign_key_violation';
  end if;
  return null;
end $$;
create trigger needs_run after insert on sample referencing new table as added for each statement execute function samples_need_a_run();

-- Computed from samples, rules and the version of the arithmetic; may be dropped and made again at any time.
create table run_result (
  run_id       integer not null references run,
  cutoff_v     double precision not null,
  arithmetic   integer not null,
  capacity_ah  double precision not null,
  capacity_u   double precision not null,
  result       jsonb not null,
  primary key (run_id, cutoff_v, arithmetic)
);

create table rest (
  id          integer generated always as identity primary key,
  batch_id    integer not null references batch,
  reason      text not null check (reason in ('charge', 'discharge')),
  began_at    timestamptz not null,
  planned_s   double precision not null check (planned_s > 0),
  voided_at   timestamptz,
  void_reason text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null))
);
create trigger keep before update or delete on rest for each row execute function keep_fact();

create table house_rules (
  version    integer generated always as identity primary key,
  name       text not null check (name <> ''),
  limits     jsonb not null,
  adopted_at timestamptz not null default now()
);

create table build (
  id          integer generated always as identity primary key,
  name        text not null check (name <> ''),
  series      integer not null check (series between 1 and 100),
  parallel    integer not null check (parallel between 1 and 100),
  saved_at    timestamptz not null default now(),
  voided_at   timestamptz,
  void_reason text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null))
);
create trigger keep before update or delete on build for each row execute function keep_fact();

create table build_cell (
  build_id integer not null references build,
  cell_id  integer not null references cell,
  position integer not null check (position > 0),
  released boolean not null default false,
  primary key (build_id, cell_id)
);
-- A cell belongs to one build at a time.
create unique index build_cell_once on build_cell (cell_id) where not released;

create table pack (
  id                integer generated always as identity primary key,
  code              text not null unique check (code ~ '^P[A-Z0-9]{1,7}$'),
  name              text not null check (name <> ''),
  chemistry         chemistry not null,
  series            integer not null check (series between 1 and 100),
  parallel          integer not null check (parallel between 1 and 100),
  rated_capacity_ah double precision not null check (rated_capacity_ah > 0),
  board             text not null check (board in ('full', 'protects', 'none')),
  recorded_at       timestamptz not null default now(),
  unique (id, series)
);

create table pack_round (
  id               integer generated always as identity primary key,
  entry            uuid not null unique,
  pack_id          integer not null,
  series           integer not null,
  state            text not null check (state in ('rest', 'load', 'charge-end', 'discharge-end')),
  group_voltages_v double precision[] not null check (array_position(group_voltages_v, null) is null),
  terminal_v       double precision,
  step_v           double precision not null check (step_v > 0),
  instrument       text not null default '',
  confirmed        boolean not null default false,
  taken_at         timestamptz not null default now(),
  recorded_at      timestamptz not null default now(),
  voided_at        timestamptz,
  void_reason      text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null)),
  foreign key (pack_id, series) references pack (id, series),
  check (cardinality(group_voltages_v) = series)
);
create index on pack_round (pack_id, id desc);
create trigger keep before update or delete on pack_round for each row execute function keep_fact();
