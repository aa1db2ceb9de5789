-- Reading its resistance again, and the next reading of a hold test, can be put off, too.
alter table put_off drop constraint put_off_act_check;
alter table put_off
  add constraint put_off_act_check
  check (act in ('down-to-storage', 'up-to-storage', 'to-full', 'look', 'resistance', 'hold-reading', 'calibrate'));
