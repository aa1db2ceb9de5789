-- Groups are read just after use, too.
alter table entry drop constraint entry_state_check;
alter table entry
  add constraint entry_state_check check (state in ('rest', 'load', 'charge-end', 'discharge-end', 'after-use'));
-- A pack was taken out for use: for what, at which current where that was told, and what its timer was set to then.
create table taken_out (
  entry_id  integer primary key references entry,
  for_what  text check (length(for_what) between 1 and 80),
  current_a double precision check (current_a > 0),
  timer_s   double precision check (timer_s > 0)
);
create trigger keep before update or delete on taken_out for each statement execute function keep_body();
-- It was brought back: what it gave, and its lowest group under load, where a counter, an alarm or telemetry told.
create table brought_back (
  entry_id        integer primary key references entry,
  used_ah         double precision check (used_ah > 0),
  lowest_v        double precision check (lowest_v > 0),
  lowest_position integer check (lowest_position between 1 and 100)
);
create trigger keep before update or delete on brought_back for each statement execute function keep_body();
