-- How files of one kind are read, under a name: the newest of a name counts. `shape` tells such a file when it comes.
create table log_mapping (
  id          integer generated always as identity primary key,
  name        text not null check (name <> ''),
  shape       text not null,
  mapping     jsonb not null,
  made_at     timestamptz not null default now(),
  archived_at timestamptz
);
create unique index log_mapping_name on log_mapping (name) where archived_at is null;
