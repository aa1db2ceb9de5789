-- A group that is bad is replaced by one from the shelf: one more way to mend a pack.
alter table remedy drop constraint remedy_way_check;
alter table remedy add constraint remedy_way_check
  check (way in ('bleed', 'top-up', 'drain', 'charge-drain', 'replace'));
