-- One ledger. What a person files with one press of Enter is an entry: of which subjects, when, with what; its figures
-- stand in narrow tables beside it. Whatever can be voided is voided there, and nowhere else.

-- What of the old rows would break a rule of the new tables is named, and nothing is changed: the version before goes on.
do $$
declare odd record;
begin
  select min(id) as id, entry into odd from reading group by entry, voided_at
  having count(distinct (confirmed, taken_at, instrument_id, channel)) > 1 or count(distinct round_id) > 1
    or count(distinct temperature_c) > 1 or max(together) <> count(distinct cell_id)
  limit 1;
  if found then
    raise exception 'Reading % (entry %) does not agree with the others of its line.', odd.id, odd.entry
      using errcode = 'check_violation', table = 'reading';
  end if;
  select rest.id, batch.code into odd from rest join batch on batch.id = rest.batch_id where voided_at < began_at limit 1;
  if found then
    raise exception 'Rest % of batch % ended before it began.', odd.id, odd.code
      using errcode = 'check_violation', table = 'rest';
  end if;
  select entry, string_agg(what || ' ' || id, ' and ' order by what) as rows into odd
  from (
    select entry, 'reading' as what, min(id) as id from reading group by entry
    union all select entry, 'reading of a cross-check', min(id) from cross_check_reading group by entry
    union all select entry, 'round of a pack', id from pack_round
    union all select entry, 'note', id from note
  ) filed
  group by entry having count(*) > 1 limit 1;
  if found then
    raise exception 'The rows % were filed under one entry, %.', odd.rows, odd.entry
      using errcode = 'check_violation', table = 'entry';
  end if;
  select cell.code into odd from cell join pack on pack.code = cell.code limit 1;
  if found then
    raise exception 'A cell and a pack have the code %.', odd.code using errcode = 'check_violation', table = 'pack';
  end if;
end $$;

-- The old guards would stand in the way of the move.
drop trigger note_added on cell;
drop trigger note_moved on cell;
drop trigger note_added on calibration;
drop trigger note_voided on calibration;
drop trigger note_added on run_result;
drop trigger note_added on build_cell;
drop trigger note_released on build_cell;
drop trigger note_corrected on batch;
drop trigger note_corrected on cell_model;
drop trigger note_corrected on correction;
drop trigger note_voided on run;
drop trigger keep on run;
create schema old;
alter table reading set schema old;
alter table weld set schema old;
alter table note set schema old;
alter table rest set schema old;
alter table pack set schema old;
alter table pack_round set schema old;
alter table cross_check_reading set schema old;
alter table cell_change set schema old;

-- A cell or a pack: whatever can be measured, rested, stored or retired. A cell is a pack of one group.
alter table cell rename to subject;
alter sequence cell_id_seq rename to subject_id_seq;
alter table subject rename constraint cell_pkey to subject_pkey;
alter table subject rename constraint cell_code_key to subject_code_key;
alter table subject rename constraint cell_batch_id_fkey to subject_batch_id_fkey;
alter table subject rename constraint cell_model_id_fkey to subject_model_id_fkey;
alter table subject rename constraint cell_batch_id_place_key to subject_batch_id_place_key;
alter index cell_model_id_idx rename to subject_model_id_idx;
alter table subject
  add column uid uuid not null unique default gen_random_uuid(),
  add column kind text not null default 'cell' check (kind in ('cell', 'pack')),
  add column series integer not null default 1 check (series between 1 and 100),
  -- Of a pack; a cell's are those of its model.
  add column name text check (name <> ''),
  add column chemistry chemistry,
  add column parallel integer check (parallel between 1 and 100),
  add column rated_capacity_ah double precision check (rated_capacity_ah > 0),
  add column board text check (board in ('full', 'protects', 'none')),
  drop constraint cell_code_check,
  alter column batch_id drop not null,
  alter column model_id drop not null,
  alter column place drop not null,
  add constraint subject_code_check check (code ~ case kind
    when 'cell' then '^[A-Z][A-Z0-9]{0,5}-[0-9]{3,5}$' else '^P[A-Z0-9]{1,7}$' end),
  add constraint subject_is_whole check (case kind
    when 'cell' then num_nulls(batch_id, model_id, place) = 0 and series = 1
      and num_nonnulls(name, chemistry, parallel, rated_capacity_ah, board) = 0
    else num_nonnulls(batch_id, model_id, place) = 0
      and num_nulls(name, chemistry, parallel, rated_capacity_ah, board) = 0 end);
alter table subject rename constraint cell_place_check to subject_place_check;
alter table subject rename constraint cell_rescues_check to subject_rescues_check;
insert into subject (kind, code, name, chemistry, series, parallel, rated_capacity_ah, board, recorded_at)
select 'pack', code, name, chemistry, series, parallel, rated_capacity_ah, board, recorded_at from old.pack order by id;

-- What belongs together: a round of resistance, a cross-check of instruments.
create table occasion (
  id        integer generated always as identity primary key,
  uid       uuid not null unique default gen_random_uuid(),
  kind      text not null check (kind in ('round', 'cross-check')),
  opened_at timestamptz not null default now()
);
alter table round add column occasion_id integer unique references occasion;
alter table cross_check add column occasion_id integer unique references occasion;
create temporary table opened on commit drop as
  select kind, id, opened_at, row_number() over (order by opened_at, kind, id)::integer as occasion_id
  from (
    select 'round' as kind, id, opened_at from round
    union all select 'cross-check', id, opened_at from cross_check
  ) old;
insert into occasion (id, kind, opened_at) overriding system value
select occasion_id, kind, opened_at from opened order by occasion_id;
select setval('occasion_id_seq', (select max(id) from occasion));
update round set occasion_id = opened.occasion_id from opened where kind = 'round' and opened.id = round.id;
update cross_check set occasion_id = opened.occasion_id
from opened where kind = 'cross-check' and opened.id = cross_check.id;
alter table round alter column occasion_id set not null, drop column opened_at;
alter table cross_check alter column occasion_id set not null, drop column opened_at;

create table entry (
  id                     integer generated always as identity primary key,
  -- Made by whoever typed it: filed once, however often it is sent.
  uid                    uuid not null unique,
  occasion_id            integer references occasion,
  taken_at               timestamptz not null default now(),
  recorded_at            timestamptz not null default now(),
  -- It was asked about and confirmed.
  confirmed              boolean not null default false,
  instrument_id          integer references instrument,
  channel                integer check (channel > 0),
  -- What the terminals of a pack were read with: its groups have the one above.
  terminal_instrument_id integer references instrument,
  -- As it was noted before instruments had a code.
  instrument_noted       text check (instrument_noted <> ''),
  state                  text check (state in ('rest', 'load', 'charge-end', 'discharge-end')),
  temperature_c          double precision check (temperature_c between -60 and 150),
  replaces_id            integer references entry,
  voided_at              timestamptz,
  void_reason            text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null))
);
create index on entry (occasion_id) where occasion_id is not null;
create index on entry (instrument_id) where instrument_id is not null;

-- What was read: several where they are welded together and were read as one.
create table entry_subject (
  subject_id integer not null references subject,
  entry_id   integer not null references entry,
  primary key (subject_id, entry_id)
);
create index on entry_subject (entry_id);

-- Positions: 1 is the group at the black lead, and a cell's own; 0 is the whole, from terminal to terminal.
create table voltage (
  entry_id  integer not null references entry,
  position  integer not null default 1 check (position >= 0),
  voltage_v double precision not null check (voltage_v between -100 and 1000),
  -- Last digit shown.
  step      double precision not null check (step > 0),
  primary key (entry_id, position)
);
create table mass (
  entry_id integer primary key references entry,
  mass_kg  double precision not null check (mass_kg > 0 and mass_kg < 100),
  step     double precision not null check (step > 0)
);
create table inspection (
  entry_id integer primary key references entry,
  findings text[] not null
);
create table load_step (
  entry_id     integer primary key references entry,
  open_v       double precision not null check (open_v between -100 and 100),
  loaded_v     double precision not null check (loaded_v between -100 and 100),
  after_v      double precision check (after_v between -100 and 100),
  current_a    double precision check (current_a > 0 and current_a < 1000),
  -- Of the voltages; of each one where it is not that of all.
  step         double precision not null check (step > 0),
  open_step    double precision check (open_step > 0),
  loaded_step  double precision check (loaded_step > 0),
  after_step   double precision check (after_step > 0),
  current_step double precision check (current_step > 0)
);
create table two_current (
  entry_id       integer primary key references entry,
  at_low_v       double precision not null check (at_low_v between -100 and 100),
  low_current_a  double precision not null check (low_current_a >= 0 and low_current_a < 1000),
  at_high_v      double precision not null check (at_high_v between -100 and 100),
  high_current_a double precision not null check (high_current_a > 0 and high_current_a < 1000),
  step           double precision not null check (step > 0),
  high_step      double precision check (high_step > 0),
  current_step   double precision check (current_step > 0)
);
create table resistance (
  entry_id       integer primary key references entry,
  resistance_ohm double precision not null check (resistance_ohm between -1 and 1000),
  step           double precision not null check (step > 0),
  -- The voltage that the meter shows beside it.
  open_v         double precision check (open_v between -100 and 100),
  open_step      double precision check (open_step > 0)
);
-- A step that a log shows, by the log's own clock; what it comes to is computed from the samples around it.
create table pulse (
  entry_id integer primary key references entry,
  run_id   integer not null references run,
  at_s     double precision not null check (at_s >= 0)
);
create index on pulse (run_id);
create table cross_check_voltage (
  entry_id       integer not null references entry,
  cross_check_id integer not null,
  position       integer not null,
  channel        integer not null check (channel > 0),
  voltage_v      double precision not null check (voltage_v between -100 and 100),
  step           double precision not null check (step > 0),
  primary key (entry_id, channel),
  foreign key (cross_check_id, position) references cross_check_battery (cross_check_id, position)
);
create index on cross_check_voltage (cross_check_id);
create table weld (
  entry_id integer primary key references entry
);
create table note (
  entry_id integer primary key references entry,
  text     text not null check (text <> '' and length(text) <= 500)
);
-- A stretch of time that something is left to. That somebody saw it, and that it ended, are told once each and change
-- nothing else.
create table period (
  entry_id  integer primary key references entry,
  kind      text not null check (kind in ('charge', 'discharge', 'rest', 'hold', 'rescue', 'stored')),
  -- What a rest follows.
  rest_from text check (rest_from in ('charge', 'discharge')),
  -- Put to it as a whole; null where its subjects were named one by one.
  batch_id  integer references batch,
  began_at  timestamptz not null,
  planned_s double precision check (planned_s > 0),
  seen_at   timestamptz,
  ended_at  timestamptz,
  check ((kind = 'rest') = (rest_from is not null)),
  constraint period_ends_after_it_began check (ended_at >= began_at)
);
create index on period (began_at) where ended_at is null;

-- The old rows move: first what they have in common, in the order in which they were filed.
create temporary table line on commit drop as
with filed as (
  -- Where a part of a line is void, it becomes a line of its own.
  select 'reading' as kind, min(id) as first, entry as old_entry,
    case when row_number() over (partition by entry order by voided_at is not null, min(id)) = 1
      then entry else gen_random_uuid() end as uid,
    min(recorded_at) as recorded_at, min(taken_at) as taken_at, bool_or(confirmed) as confirmed, min(instrument_id) as instrument_id, min(channel) as channel,
    null::integer as terminal_instrument_id, null as instrument_noted, null as state,
    max(temperature_c) as temperature_c, max(round_id) as round_id, null::integer as cross_check_id,
    voided_at, min(void_reason) as void_reason
  from old.reading group by entry, voided_at
  union all
  -- That cells are welded was mostly told with what they were read to be, in one line.
  select 'weld', id, entry, case when exists (select from old.reading where entry = weld.entry) then gen_random_uuid() else entry end,
    noted_at, noted_at, false, null, null, null, null, null, null, null, null, voided_at, void_reason
  from old.weld
  where not exists (
    select from old.reading
    where entry = weld.entry and (reading.voided_at is null) = (weld.voided_at is null))
  union all
  select 'pack round', id, entry, entry, recorded_at, taken_at, confirmed, instrument_id, null, terminal_instrument_id,
    nullif(instrument, ''), state, null, null, null, voided_at, void_reason
  from old.pack_round
  union all
  select 'cross-check', min(id), entry,
    case when row_number() over (partition by entry order by voided_at is not null, min(id)) = 1
      then entry else gen_random_uuid() end,
    min(recorded_at), min(taken_at), bool_or(confirmed), min(instrument_id), null,
    null, null, null, null, null, min(cross_check_id), voided_at, min(void_reason)
  from old.cross_check_reading group by entry, voided_at
  union all
  select 'note', id, entry, entry, noted_at, noted_at, false, null, null, null, null, null, null, null, null,
    voided_at, void_reason
  from old.note
  union all
  -- "Seen at the watch" was told by voiding a rest, which made readings count as if there had been none.
  select 'rest', id, null, gen_random_uuid(), began_at, began_at, false, null, null, null, null, null, null, null, null,
    case when void_reason not like 'seen%' then voided_at end,
    case when void_reason not like 'seen%' then void_reason end
  from old.rest
  union all
  select 'run', id, null, gen_random_uuid(), recorded_at, ended_at, false, logger_id, null, null, null, null, null, null, null,
    voided_at, void_reason
  from run
),
-- The order within a kind is that of its numbers, whatever the clock did.
placed as (
  select *, max(recorded_at) over (partition by kind order by first) as place from filed
)
select *, row_number() over (order by place, kind, first)::integer as entry_id from placed;
create index on line (kind, first);
create index on line (old_entry);

insert into entry (id, uid, occasion_id, taken_at, recorded_at, confirmed, instrument_id, channel,
  terminal_instrument_id, instrument_noted, state, temperature_c, voided_at, void_reason)
overriding system value
select entry_id, line.uid, coalesce(round.occasion_id, cross_check.occasion_id), taken_at, recorded_at, confirmed,
  line.instrument_id, channel, terminal_instrument_id, instrument_noted, state, line.temperature_c, voided_at, void_reason
from line
left join round on round.id = line.round_id
left join cross_check on cross_check.id = line.cross_check_id
order by entry_id;
select setval('entry_id_seq', (select max(id) from entry));

create temporary view one_reading as
  select distinct on (line.entry_id, reading.kind) line.entry_id, reading.*
  from old.reading join line on line.kind = 'reading' and line.old_entry = reading.entry
    and line.voided_at is not distinct from reading.voided_at
  order by line.entry_id, reading.kind, reading.id;
create temporary view one_weld as
  select line.entry_id, weld.* from old.weld
  join line on line.kind = 'weld' and line.first = weld.id
    or line.kind = 'reading' and line.old_entry = weld.entry and (line.voided_at is null) = (weld.voided_at is null);

insert into entry_subject (entry_id, subject_id)
select line.entry_id, cell_id from old.reading join line on line.kind = 'reading' and line.old_entry = entry
    and line.voided_at is not distinct from reading.voided_at
union select entry_id, unnest(cell_ids) from one_weld
union select line.entry_id, subject.id from old.pack_round join line on line.kind = 'pack round' and first = pack_round.id
  join old.pack on pack.id = pack_id join subject on subject.code = pack.code
union select line.entry_id, coalesce(cell_id, subject.id) from old.note join line on line.kind = 'note' and first = note.id
  left join old.pack on pack.id = pack_id left join subject on subject.code = pack.code
union select line.entry_id, subject.id from old.rest join line on line.kind = 'rest' and first = rest.id
  join subject on subject.batch_id = rest.batch_id
union select line.entry_id, unnest(cell_id || with_cell_ids) from run join line on line.kind = 'run' and first = run.id;

insert into voltage (entry_id, voltage_v, step) select entry_id, voltage_v, step from one_reading where kind = 'voltage';
insert into mass select entry_id, mass_kg, step from one_reading where kind = 'mass';
insert into inspection select entry_id, findings from one_reading where kind = 'inspection';
insert into load_step
select entry_id, open_v, loaded_v, after_v, current_a, step, open_step, loaded_step, after_step, current_step
from one_reading where kind = 'load-step';
insert into two_current
select entry_id, at_low_v, low_current_a, at_high_v, high_current_a, step, high_step, current_step
from one_reading where kind = 'two-current';
insert into resistance
select entry_id, resistance_ohm, step, open_v, open_step from one_reading where kind = 'resistance';
insert into pulse select entry_id, run_id, at_s from one_reading where kind = 'pulse';
insert into weld select entry_id from one_weld;
-- Rounds of the first days have one last digit for all their figures.
insert into voltage (entry_id, position, voltage_v, step)
select line.entry_id, group_v.position, group_v.v, coalesce(group_steps_v[group_v.position], step_v)
from old.pack_round join line on line.kind = 'pack round' and first = pack_round.id
cross join unnest(group_voltages_v) with ordinality as group_v (v, position);
insert into voltage (entry_id, position, voltage_v, step)
select line.entry_id, 0, terminal_v, coalesce(terminal_step_v, step_v)
from old.pack_round join line on line.kind = 'pack round' and first = pack_round.id
where terminal_v is not null;
insert into cross_check_voltage
select line.entry_id, reading.cross_check_id, position, reading.channel, voltage_v, step
from old.cross_check_reading reading join line on line.kind = 'cross-check' and line.old_entry = entry
  and line.voided_at is not distinct from reading.voided_at;
insert into note select line.entry_id, text from old.note join line on line.kind = 'note' and first = note.id;
insert into period (entry_id, kind, rest_from, batch_id, began_at, planned_s, seen_at, ended_at)
select line.entry_id, 'rest', reason, batch_id, began_at, planned_s, seen_at, seen_at
from (select *, case when void_reason like 'seen%' then voided_at end as seen_at from old.rest) rest
join line on line.kind = 'rest' and first = rest.id;
alter table run add column entry_id integer unique references entry;
update run set entry_id = line.entry_id from line where line.kind = 'run' and first = run.id;
drop view one_reading, one_weld;
alter table run
  alter column entry_id set not null,
  drop column cell_id, drop column with_cell_ids, drop column recorded_at, drop column voided_at, drop column void_reason,
  drop column logger_id;
create index on run (content_sha256);
create index on run (ended_at desc, id desc);

drop schema old cascade;
drop function note_changed_cells, note_new_cells, note_judged_cells, note_corrected_cells, note_rested_cells,
  note_moved_cells, note_cells_of_batches, note_cells_of_models, note_welded_cells, note_noted_cells,
  note_cells_of_instruments, note_cells_of_runs;
drop function note_cells;

-- Facts are stored once and for ever. An entry can be voided with a reason; what stands beside it never changes.
create trigger keep before update or delete on entry for each row execute function keep_fact();
create function keep_body() returns trigger language plpgsql as $$
begin
  raise exception 'facts are kept: void the entry of the % with a reason instead', tg_table_name
    using errcode = 'restrict_violation';
end $$;
create function keep_period() returns trigger language plpgsql as $$
begin
  if tg_op = 'UPDATE'
     and to_jsonb(old) - 'seen_at' - 'ended_at' = to_jsonb(new) - 'seen_at' - 'ended_at'
     and (old.seen_at is null or old.seen_at = new.seen_at) and (old.ended_at is null or old.ended_at = new.ended_at)
  then
    return new;
  end if;
  raise exception 'facts are kept: void the entry of the period with a reason instead' using errcode = 'restrict_violation';
end $$;
create trigger keep before update or delete on period for each row execute function keep_period();
do $$
declare body text;
begin
  foreach body in array array['entry_subject', 'voltage', 'mass', 'inspection', 'load_step', 'two_current', 'resistance',
    'pulse', 'cross_check_voltage', 'weld', 'note', 'run'] loop
    execute format(
      'create trigger keep before update or delete on %I for each statement execute function keep_body()', body);
  end loop;
end $$;

-- A resistance is read in a round, which tells how.
create function needs_a_round() returns trigger language plpgsql as $$
begin
  if not exists (select from entry join round on round.occasion_id = entry.occasion_id where entry.id = new.entry_id) then
    raise exception 'a % needs a round', tg_table_name using errcode = 'foreign_key_violation', constraint = 'needs_a_round';
  end if;
  return new;
end $$;
create trigger needs_a_round before insert on load_step for each row execute function needs_a_round();
create trigger needs_a_round before insert on two_current for each row execute function needs_a_round();
create trigger needs_a_round before insert on resistance for each row execute function needs_a_round();
create trigger needs_a_round before insert on pulse for each row execute function needs_a_round();

create function is_a_group() returns trigger language plpgsql as $$
begin
  if exists (select from entry_subject join subject on subject.id = subject_id
      where entry_id = new.entry_id and series < new.position) then
    raise exception 'there is no group %', new.position using errcode = 'check_violation', constraint = 'is_a_group';
  end if;
  return new;
end $$;
create trigger is_a_group before insert on voltage for each row execute function is_a_group();

-- The same log, and the same step of a log, stands once. Two that come at the same instant come one after the other.
create function run_content_once() returns trigger language plpgsql as $$
begin
  -- A lock for each first byte: one for each log would be too many where thousands come in one transaction.
  perform pg_advisory_xact_lock(7140232, get_byte(new.content_sha256, 0));
  if exists (select from run join entry on entry.id = run.entry_id
      where content_sha256 = new.content_sha256 and voided_at is null) then
    raise exception 'this log is here already' using errcode = 'unique_violation', constraint = 'run_content_once';
  end if;
  return new;
end $$;
create trigger once before insert on run for each row execute function run_content_once();
create function step_filed_once() returns trigger language plpgsql as $$
begin
  perform from run where id = new.run_id for no key update;
  -- No two steps of a log are nearer.
  if exists (select from pulse join entry on entry.id = pulse.entry_id
      where run_id = new.run_id and abs(at_s - new.at_s) < 2.5 and voided_at is null) then
    raise exception 'this step is filed already' using errcode = 'unique_violation', constraint = 'step_filed_once';
  end if;
  return new;
end $$;
create trigger once before insert on pulse for each row execute function step_filed_once();

-- Which transaction last changed what a verdict on a subject stands on, so that only those are judged anew.
create table change (
  subject_id integer primary key references subject,
  changed_by xid8 not null
);
create index on change (changed_by);
insert into change select id, pg_current_xact_id() from subject;
-- Its argument tells, in SQL, the subjects that the rows in `changed` are about.
create function note_change() returns trigger language plpgsql as $$
begin
  execute format('
    insert into change
    select distinct id, pg_current_xact_id() from (%s) touched (id) where id is not null order by id
    on conflict (subject_id) do update set changed_by = excluded.changed_by', tg_argv[0]);
  return null;
end $$;

create trigger note_added after insert on subject referencing new table as changed
  for each statement execute function note_change('select id from changed');
create trigger note_changed after update on subject referencing new table as changed
  for each statement execute function note_change('select id from changed');
create trigger note_added after insert on entry_subject referencing new table as changed
  for each statement execute function note_change('select subject_id from changed');
create trigger note_voided after update on entry referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry_subject on entry_id = changed.id');
create trigger note_added after insert on run_result referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join run on run.id = run_id join entry_subject using (entry_id)');
create trigger note_added after insert on build_cell referencing new table as changed
  for each statement execute function note_change('select cell_id from changed');
create trigger note_released after update on build_cell referencing new table as changed
  for each statement execute function note_change('select cell_id from changed');
create trigger note_corrected after update on batch referencing new table as changed
  for each statement execute function note_change(
    'select subject.id from changed join subject on batch_id = changed.id');
create trigger note_corrected after update on cell_model referencing new table as changed
  for each statement execute function note_change(
    'select subject.id from changed join subject on model_id = changed.id');
create trigger note_added after insert on calibration referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry using (instrument_id) join entry_subject on entry_id = entry.id');
create trigger note_voided after update on calibration referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry using (instrument_id) join entry_subject on entry_id = entry.id');
create trigger note_corrected after insert on correction referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry using (instrument_id) join entry_subject on entry_id = entry.id
     union select subject_id from changed join round on ammeter_id = changed.instrument_id
       join entry using (occasion_id) join entry_subject on entry_id = entry.id');
