-- A log may tell the voltage of each group of a pack beside that of the whole.
alter table run add column group_step_v double precision check (group_step_v > 0);
alter table sample add column groups_v double precision[];
