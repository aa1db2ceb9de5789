-- When a backup was last made and checked.
create table backup (
  id      integer generated always as identity primary key,
  made_at timestamptz not null default now(),
  file    text not null check (file <> ''),
  bytes   bigint not null check (bytes > 0)
);

-- Who may come in where the workshop is open to the local network. Only hashes are kept.
create table passphrase (
  id     integer generated always as identity primary key,
  hash   text not null check (hash like '$argon2id$%'),
  set_at timestamptz not null default now()
);

create table session (
  token_hash bytea primary key check (length(token_hash) = 32),
  began_at   timestamptz not null default now(),
  ends_at    timestamptz not null,
  agent      text not null
);

create table api_key (
  id           integer generated always as identity primary key,
  name         text not null check (name <> ''),
  token_hash   bytea not null unique check (length(token_hash) = 32),
  made_at      timestamptz not null default now(),
  withdrawn_at timestamptz
);
