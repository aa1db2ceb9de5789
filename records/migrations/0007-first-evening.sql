-- Every figure of a pack's round has its own last digit; null where one stood for all, `step_v`.
alter table pack_round
  add column group_steps_v double precision[] check (cardinality(group_steps_v) = series and 0 < all (group_steps_v)),
  add column terminal_step_v double precision check (terminal_step_v > 0);

-- Most salvage has no maker or model that anybody knows: its size and what is printed on it are known.
alter table cell_model
  alter column maker drop not null,
  alter column name drop not null,
  add column size text check (size <> ''),
  add check ((maker is null) = (name is null)),
  add check (name is not null or size is not null);

alter table batch
  add column notes text not null default '',
  -- A batch made by mistake is put away with its cells.
  add column archived_at timestamptz;

-- What was noted of a batch or an instrument may be corrected: who did, and what stood there before.
create table correction (
  id            integer generated always as identity primary key,
  batch_id      integer references batch,
  instrument_id integer references instrument,
  before        jsonb not null,
  after         jsonb not null,
  by            text not null check (by <> ''),
  made_at       timestamptz not null default now(),
  check (num_nonnulls(batch_id, instrument_id) = 1)
);
create index on correction (batch_id) where batch_id is not null;
create index on correction (instrument_id) where instrument_id is not null;

create function keep_corrections() returns trigger language plpgsql as $$
begin
  raise exception 'corrections are kept: correct it once more instead' using errcode = 'restrict_violation';
end $$;
create trigger keep before update or delete on correction for each statement execute function keep_corrections();

-- Cells that were left welded together, in parallel: they are read as one.
create table weld (
  id          integer generated always as identity primary key,
  entry       uuid not null unique,
  cell_ids    integer[] not null check (cardinality(cell_ids) >= 2),
  noted_at    timestamptz not null default now(),
  voided_at   timestamptz,
  void_reason text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null))
);
create index on weld using gin (cell_ids);
create trigger keep before update or delete on weld for each row execute function keep_fact();
insert into weld (entry, cell_ids) select gen_random_uuid(), array_agg(id order by id) from cell where bond is not null group by batch_id, bond having count(*) >= 2;
alter table cell drop column bond;

-- A reading of several cells at once: the same for each, and how many were read together.
alter table reading
  add column together integer not null default 1 check (together >= 1),
  drop constraint reading_entry_kind_key,
  add unique (entry, kind, cell_id);
-- The further cells that a log was taken of, welded to the one it is filed for.
alter table run add column with_cell_ids integer[] not null default '{}';
create index on run using gin (with_cell_ids) where with_cell_ids <> '{}';

-- A line written about a cell or a pack.
create table note (
  id          integer generated always as identity primary key,
  entry       uuid not null unique,
  cell_id     integer references cell,
  pack_id     integer references pack,
  text        text not null check (text <> '' and length(text) <= 500),
  noted_at    timestamptz not null default now(),
  voided_at   timestamptz,
  void_reason text check (void_reason <> ''),
  check ((voided_at is null) = (void_reason is null)),
  check (num_nonnulls(cell_id, pack_id) = 1)
);
create index on note (cell_id) where cell_id is not null;
create index on note (pack_id) where pack_id is not null;
create trigger keep before update or delete on note for each row execute function keep_fact();

-- What else changes how cells are judged: their batch, their model, their welds, and the instruments they were read with.
create function note_cells(ids integer[]) returns void language sql as $$
  insert into cell_change select distinct id, pg_current_xact_id() from unnest(ids) id where id is not null order by id
  on conflict (cell_id) do update set changed_by = excluded.changed_by;
$$;
create function note_moved_cells() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select id from changed));
  return null;
end $$;
create trigger note_moved after update on cell referencing new table as changed for each statement execute function note_moved_cells();
create function note_cells_of_batches() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select cell.id from changed join cell on cell.batch_id = changed.id));
  return null;
end $$;
create trigger note_corrected after update on batch referencing new table as changed for each statement execute function note_cells_of_batches();
create function note_cells_of_models() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select cell.id from changed join cell on cell.model_id = changed.id));
  return null;
end $$;
create trigger note_corrected after update on cell_model referencing new table as changed for each statement execute function note_cells_of_models();
create function note_welded_cells() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select unnest(cell_ids) from changed));
  return null;
end $$;
create trigger note_added after insert on weld referencing new table as changed for each statement execute function note_welded_cells();
create trigger note_voided after update on weld referencing new table as changed for each statement execute function note_welded_cells();
create function note_noted_cells() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select cell_id from changed));
  return null;
end $$;
create trigger note_added after insert on note referencing new table as changed for each statement execute function note_noted_cells();
create trigger note_voided after update on note referencing new table as changed for each statement execute function note_noted_cells();
create function note_cells_of_instruments() returns trigger language plpgsql as $$
begin
  perform note_cells(array(
    select reading.cell_id from changed join reading on reading.instrument_id = changed.instrument_id
    union select reading.cell_id from changed join round on round.ammeter_id = changed.instrument_id join reading on reading.round_id = round.id));
  return null;
end $$;
create trigger note_corrected after insert on correction referencing new table as changed for each statement execute function note_cells_of_instruments();

-- A log of several cells changes each of them.
create or replace function note_judged_cells() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select unnest(run.cell_id || run.with_cell_ids) from changed join run on run.id = changed.run_id));
  return null;
end $$;
create function note_cells_of_runs() returns trigger language plpgsql as $$
begin
  perform note_cells(array(select unnest(cell_id || with_cell_ids) from changed));
  return null;
end $$;
drop trigger note_voided on run;
create trigger note_voided after update on run referencing new table as changed for each statement execute function note_cells_of_runs();

-- An accuracy that nobody knows is not nought.
alter table instrument_range
  alter column accuracy_share drop not null, alter column accuracy_share drop default,
  alter column accuracy_counts drop not null, alter column accuracy_counts drop default;
update instrument_range set accuracy_share = null, accuracy_counts = null where accuracy_share = 0 and accuracy_counts = 0;

-- A cell of a build gave its place to another one.
alter table build_cell add column swapped_for integer references cell;

-- The last digit of each voltage of a step where it is not that of all, `step`; and of the volts beside a resistance.
alter table reading
  add column open_step double precision check (open_step > 0),
  add column loaded_step double precision check (loaded_step > 0),
  add column after_step double precision check (after_step > 0),
  add column high_step double precision check (high_step > 0);
