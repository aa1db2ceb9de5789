-- A cross-check on the groups of a pack: channel n of an instrument reads group n. Null: on batteries of their own.
alter table cross_check add column subject_id integer references subject;
-- A meter without channels reads one group after the other.
alter table cross_check_voltage
  drop constraint cross_check_voltage_pkey,
  add primary key (entry_id, position, channel);
