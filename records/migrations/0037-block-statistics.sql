-- The database gathers what is usual in each column, of arrays element by element: after every tenth log it reckoned for
-- half a minute over samples that no query ever asks for by value.
alter table sample_block
  alter column time_s set statistics 0,
  alter column voltage_v set statistics 0,
  alter column current_a set statistics 0,
  alter column temperature_c set statistics 0,
  alter column groups_v set statistics 0,
  alter column extremes set statistics 0,
  alter column cycle set statistics 0,
  alter column step set statistics 0;
