-- A table that somebody had kept elsewhere, as it was pasted, with the entries that came of it: they are voided in one act.
create table notebook (
  id         integer generated always as identity primary key,
  uid        uuid not null unique,
  name       text not null check (name <> ''),
  pasted     text not null,
  columns    jsonb not null,
  batch_id   integer references batch,
  brought_at timestamptz not null default now()
);
create table notebook_entry (
  notebook_id integer not null references notebook,
  entry_id    integer not null references entry,
  primary key (notebook_id, entry_id)
);
create trigger keep before update or delete on notebook for each statement execute function keep_body();
create trigger keep before update or delete on notebook_entry for each statement execute function keep_body();

-- A capacity as somebody noted it, without a log.
create table capacity_noted (
  entry_id    integer primary key references entry,
  capacity_ah double precision not null check (capacity_ah > 0 and capacity_ah < 1000),
  step        double precision not null check (step > 0)
);
create trigger keep before update or delete on capacity_noted for each statement execute function keep_body();
