-- A charge from a rested voltage up to full, which tells a capacity without running anything flat.
create table partial_charge (
  entry_id          integer primary key references entry,
  start_voltages_v  double precision[] not null check (cardinality(start_voltages_v) between 1 and 100
    and 0 < all (start_voltages_v) and 10 > all (start_voltages_v)),
  step              double precision not null check (step > 0),
  charge_ah         double precision not null check (charge_ah > 0 and charge_ah < 1000),
  -- The most by which the charge may be off, a share; null where nobody knows.
  charge_limit      double precision check (charge_limit > 0 and charge_limit < 1),
  -- Rested at its end, of each group alike; null: charged full.
  end_voltage_v     double precision check (end_voltage_v > 0 and end_voltage_v < 10)
);
create trigger keep before update or delete on partial_charge for each statement execute function keep_body();

-- Discharges that show the open-circuit voltage are few among many.
create index run_result_course on run_result (layout_id) where jsonb_typeof(result -> 'course') = 'object';
