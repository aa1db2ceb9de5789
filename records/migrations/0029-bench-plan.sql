-- When somebody is at the bench.
create table attended (
  id           uuid primary key,
  from_at      timestamptz not null,
  to_at        timestamptz not null,
  withdrawn_at timestamptz,
  constraint attended_ends_after_it_begins check (to_at > from_at),
  constraint attended_hours_lie_apart exclude using gist (tstzrange(from_at, to_at) with &&) where (withdrawn_at is null)
);
-- A job that is wanted with a cell or a pack, after another one.
create table job (
  entry_id integer primary key references entry,
  job      text not null check (job in ('charge', 'balance', 'resistance', 'discharge', 'storage', 'hold')),
  after    uuid references entry (uid),
  due_at   timestamptz
);
create trigger keep before update or delete on job for each statement execute function keep_body();
-- It was begun: when, for how long and until when its period tells.
create table job_begun (
  entry_id integer primary key references entry,
  of       uuid not null references entry (uid),
  station  text not null check (length(station) between 1 and 40)
);
create trigger keep before update or delete on job_begun for each statement execute function keep_body();
create index on job_begun (of);
-- What is neither charged nor discharged, or both.
alter table period drop constraint period_kind_check;
alter table period
  add constraint period_kind_check
  check (kind in ('charge', 'discharge', 'rest', 'hold', 'rescue', 'stored', 'work'));
-- The plan as it was made last: it is made anew at any time, and replaced whole.
create table bench_plan (
  id        integer primary key check (id = 1),
  made_at   timestamptz not null,
  ends_at   timestamptz not null,
  bound_at  timestamptz not null,
  is_proven boolean not null,
  unplaced  jsonb not null
);
create table planned (
  entry_id     integer primary key references entry,
  station      text not null,
  from_at      timestamptz not null,
  to_at        timestamptz not null,
  expected_min double precision not null,
  doubt_min    double precision not null,
  is_blind     boolean not null
);
-- A key opens the interface for programs, or the calendar alone.
alter table api_key add column opens text not null default 'api' check (opens in ('api', 'calendar'));
-- So many packs at once, each with these watts and amperes.
alter table charger add column outputs integer not null default 1 check (outputs between 1 and 20);
