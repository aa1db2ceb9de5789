-- What was done with a cell or a pack on its way out; the period of a run-down tells from when until when.
create table retiring (
  entry_id  integer primary key references entry,
  act       text not null check (act in ('run-down', 'as-it-is', 'flat', 'taped', 'gone')),
  -- At its terminals; of a reading whether it is flat.
  voltage_v double precision check (voltage_v between -10 and 1000),
  to_whom   text check (length(to_whom) between 1 and 120),
  check ((act = 'flat') = (voltage_v is not null)),
  check ((act = 'gone') = (to_whom is not null))
);
create trigger keep before update or delete on retiring for each statement execute function keep_body();
