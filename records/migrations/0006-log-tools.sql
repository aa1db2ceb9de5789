-- What was told of a log's tools: the tolerance of the resistor or the set current, and the instrument that logged it.
-- Null where nobody said; what is then assumed is the arithmetic's business.
alter table run
  add column load_tolerance double precision check (load_tolerance >= 0 and load_tolerance < 1),
  add column logger_id integer references instrument,
  add column current_step_a double precision check (current_step_a > 0);

-- When the level after a load is read, seconds after the load came off; null where nobody noted it.
alter table round add column after_s double precision check (after_s > 0 and after_s <= 3600);
