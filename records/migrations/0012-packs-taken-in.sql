-- What is noted of a pack when it is taken in: how it was when new, how often it was used, which packs are its twins.
alter table subject
  -- Null where nobody noted it, and for a cell.
  add column balance_connector boolean check (balance_connector is null or kind = 'pack');
create table as_new (
  entry_id        integer primary key references entry,
  capacity_ah     double precision check (capacity_ah > 0 and capacity_ah < 1000),
  price           double precision check (price >= 0),
  resistances_ohm double precision[] check (0 < all (resistances_ohm) and 10 > all (resistances_ohm)),
  check (num_nonnulls(capacity_ah, price, resistances_ohm) > 0)
);
create table cycles (
  entry_id integer primary key references entry,
  count    integer not null check (count between 0 and 100000)
);
create table twins (
  entry_id integer primary key references entry
);
create trigger keep before update or delete on as_new for each statement execute function keep_body();
create trigger keep before update or delete on cycles for each statement execute function keep_body();
create trigger keep before update or delete on twins for each statement execute function keep_body();
