-- What was due with a cell or a pack was put off by somebody, until then and why; then it is due again.
create table put_off (
  entry_id    integer primary key references entry,
  act         text not null check (act in ('down-to-storage', 'up-to-storage', 'to-full', 'look')),
  until_at    timestamptz not null,
  reason      text not null check (length(reason) between 1 and 200)
);
create trigger keep before update or delete on put_off for each statement execute function keep_body();
