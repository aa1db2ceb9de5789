-- Long lists are read a page at a time, and the curve of a long run is drawn from a few hundred points.
create index on run (ended_at desc, id desc) where voided_at is null;

-- Reduced so that the lowest and the highest voltage of every stretch are kept; may be dropped and made again at any time.
create table run_curve (
  run_id integer primary key references run,
  points jsonb not null
);
