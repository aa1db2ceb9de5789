-- What a charger can do, by its maker.
create table charger (
  instrument_id   integer primary key references instrument,
  max_a           double precision not null check (max_a > 0),
  max_w           double precision not null check (max_w > 0),
  -- What it can burn while it discharges; nought: it cannot.
  discharge_max_w double precision not null check (discharge_max_w >= 0),
  -- Its currents are set in steps of this; nought: it takes any.
  step_a          double precision not null check (step_a >= 0),
  -- Through its balance resistors; nought: it does not balance.
  bleed_a         double precision not null check (bleed_a >= 0)
);
