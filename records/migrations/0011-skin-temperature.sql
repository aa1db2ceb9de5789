-- How warm a cell or a pack is to the touch, measured on its skin.
create table skin_temperature (
  entry_id integer primary key references entry,
  skin_c   double precision not null check (skin_c between -60 and 150),
  step     double precision not null check (step > 0)
);
create trigger keep before update or delete on skin_temperature for each statement execute function keep_body();
