-- Every figure of a pack's round has its own last digit; null where one stood for all, `step_v`.
alter table pack_round
  add column group_steps_v double precision[] check (cardinality(group_steps_v) = series and 0 < all (group_steps_v)),
  add column terminal_step_v double precision check (terminal_step_v > 0);
