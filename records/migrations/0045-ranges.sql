-- An instrument may have several ranges of one quantity, each with its own last digit and accuracy.
alter table instrument_range
  drop constraint instrument_range_pkey,
  add primary key (instrument_id, quantity, resolution);
