-- How the file of a run is read: which column is what, and what drew the current. The newest counts; those before it stay.
create table run_layout (
  id                  integer generated always as identity primary key,
  run_id              integer not null references run,
  read_at             timestamptz not null default now(),
  -- As somebody told it; null where the file tells it by itself.
  mapping             jsonb,
  load_kind           text not null check (load_kind in ('resistor', 'current', 'column')),
  load_resistance_ohm double precision check (load_resistance_ohm > 0),
  load_current_a      double precision check (load_current_a > 0),
  load_tolerance      double precision check (load_tolerance >= 0 and load_tolerance < 1),
  voltage_step_v      double precision not null check (voltage_step_v > 0),
  current_step_a      double precision check (current_step_a > 0),
  group_step_v        double precision check (group_step_v > 0),
  samples             integer not null check (samples > 1),
  -- What the reader of the file understood and passed over.
  columns             jsonb not null,
  notices             jsonb not null,
  check ((load_kind = 'resistor') = (load_resistance_ohm is not null)),
  check ((load_kind = 'current') = (load_current_a is not null))
);
create index on run_layout (run_id, id desc);
insert into run_layout (run_id, read_at, load_kind, load_resistance_ohm, load_current_a, load_tolerance, voltage_step_v,
  current_step_a, group_step_v, samples, columns, notices)
select run.id, recorded_at, load_kind, load_resistance_ohm, load_current_a, load_tolerance, voltage_step_v,
  current_step_a, group_step_v, samples, columns, notices
from run join entry on entry.id = entry_id
order by run.id;
create trigger keep before update or delete on run_layout for each statement execute function keep_body();

-- Samples in their order, some thousand a row, with those at which anything stands highest or lowest: a curve of any
-- stretch is drawn without reading what lies between.
create table sample_block (
  layout_id     integer not null references run_layout,
  seq           integer not null check (seq >= 0),
  samples       integer not null check (samples > 0),
  from_s        double precision not null check (from_s >= 0),
  to_s          double precision not null,
  time_s        double precision[] compression lz4 not null,
  voltage_v     double precision[] compression lz4 not null,
  current_a     double precision[] compression lz4,
  temperature_c double precision[] compression lz4,
  -- An array a group, from the black lead.
  groups_v      double precision[] compression lz4,
  extremes      jsonb not null,
  primary key (layout_id, seq),
  check (to_s >= from_s),
  check (cardinality(time_s) = samples and cardinality(voltage_v) = samples),
  check (cardinality(current_a) = samples and cardinality(temperature_c) = samples),
  check (cardinality(groups_v) % samples = 0)
);

insert into sample_block
with placed as (
  select run_layout.id as layout_id, sample.seq / 2048 as block, sample.*
  from sample join run_layout using (run_id)),
marked as (
  select *,
    seq in (first_value(seq) over (stretch order by seq), first_value(seq) over (stretch order by seq desc),
      first_value(seq) over (stretch order by voltage_v, seq), first_value(seq) over (stretch order by voltage_v desc, seq),
      first_value(seq) over (stretch order by current_a, seq), first_value(seq) over (stretch order by current_a desc, seq)
    ) as is_extreme
  from placed
  window stretch as (partition by layout_id, block))
select layout_id, block, count(*), min(time_s), max(time_s), array_agg(time_s order by seq),
  array_agg(voltage_v order by seq),
  case when count(current_a) > 0 then array_agg(current_a order by seq) end,
  case when count(temperature_c) > 0 then array_agg(temperature_c order by seq) end,
  (select array_agg(of_group order by place)
   from (
     select place, array_agg(groups_v[place] order by seq) as of_group
     from marked own, generate_series(1, cardinality(groups_v)) place
     where own.layout_id = marked.layout_id and own.block = marked.block
     group by place) groups),
  jsonb_agg(jsonb_build_object('timeS', time_s, 'voltageV', voltage_v, 'currentA', current_a,
    'temperatureC', temperature_c, 'groupsV', groups_v) order by seq) filter (where is_extreme)
from marked
group by layout_id, block
order by layout_id, block;
create trigger keep before update or delete on sample_block for each statement execute function keep_samples();

-- Computed from samples, and made again under the new keys.
drop table run_curve;
drop table sample;
drop function samples_need_a_run;

drop trigger note_added on run_result;
alter table run_result add column layout_id integer references run_layout;
update run_result set layout_id = run_layout.id from run_layout where run_layout.run_id = run_result.run_id;
alter table run_result drop column run_id;
alter table run_result add primary key (layout_id, cutoff_v, arithmetic);
create trigger note_added after insert on run_result referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join run_layout on run_layout.id = layout_id
       join run on run.id = run_layout.run_id join entry_subject using (entry_id)');
create trigger note_added after insert on run_layout referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join run on run.id = run_id join entry_subject using (entry_id)');
create trigger announce after insert or update on run_layout for each statement execute function announce();

alter table run
  drop column load_kind, drop column load_resistance_ohm, drop column load_current_a, drop column load_tolerance,
  drop column voltage_step_v, drop column current_step_a, drop column group_step_v, drop column samples,
  drop column columns, drop column notices;
