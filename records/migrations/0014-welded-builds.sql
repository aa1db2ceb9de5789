-- A build that was welded is a pack; taken apart, its cells are free again and its readings stay with it.
alter table subject
  add column build_id integer references build check (build_id is null or kind = 'pack'),
  add column apart_at timestamptz check (apart_at is null or kind = 'pack'),
  add column apart_because text check (apart_because <> ''),
  add check ((apart_at is null) = (apart_because is null));
-- A build is welded once.
create unique index subject_build_once on subject (build_id);

-- Cells know the pack that they are part of.
create trigger note_welded after insert on subject referencing new table as changed
  for each statement execute function note_change(
    'select cell_id from changed join build_cell using (build_id) where not released');
