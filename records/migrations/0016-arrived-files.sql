-- The file of a log as it arrived, gzipped, in portions; runs that came before this have none.
create table run_file (
  run_id integer not null references run,
  seq    integer not null check (seq >= 0),
  packed bytea not null,
  primary key (run_id, seq)
);
-- It is packed already.
alter table run_file alter column packed set storage external;
create trigger keep before update or delete on run_file for each statement execute function keep_body();
