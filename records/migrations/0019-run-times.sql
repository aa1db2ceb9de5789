-- For how long a pack served in its usual use, as somebody noted it.
create table run_time (
  entry_id   integer primary key references entry,
  duration_s double precision not null check (duration_s > 0 and duration_s < 864000)
);
create trigger keep before update or delete on run_time for each statement execute function keep_body();
