-- When a cell of a build was put in its place at the bench; null: not yet.
alter table build_cell add column placed_at timestamptz;
