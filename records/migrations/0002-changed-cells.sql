-- Which transaction last added or voided a fact of a cell, so that only cells that changed are judged anew.
create table cell_change (
  cell_id    integer primary key references cell,
  changed_by xid8 not null
);
create index on cell_change (changed_by);
insert into cell_change select id, pg_current_xact_id() from cell;

create function note_changed_cells() returns trigger language plpgsql as $$
begin
  insert into cell_change select distinct cell_id, pg_current_xact_id() from changed order by cell_id
  on conflict (cell_id) do update set changed_by = excluded.changed_by;
  return null;
end $$;

create function note_new_cells() returns trigger language plpgsql as $$
begin
  insert into cell_change select id, pg_current_xact_id() from changed;
  return null;
end $$;

create function note_judged_cells() returns trigger language plpgsql as $$
begin
  insert into cell_change select distinct cell_id, pg_current_xact_id() from changed join run on run.id = changed.run_id order by cell_id
  on conflict (cell_id) do update set changed_by = excluded.changed_by;
  return null;
end $$;

create trigger note_added after insert on cell referencing new table as changed for each statement execute function note_new_cells();
create trigger note_added after insert on reading referencing new table as changed for each statement execute function note_changed_cells();
create trigger note_voided after update on reading referencing new table as changed for each statement execute function note_changed_cells();
create trigger note_voided after update on run referencing new table as changed for each statement execute function note_changed_cells();
create trigger note_added after insert on run_result referencing new table as changed for each statement execute function note_judged_cells();
create trigger note_added after insert on build_cell referencing new table as changed for each statement execute function note_changed_cells();
create trigger note_released after update on build_cell referencing new table as changed for each statement execute function note_changed_cells();
