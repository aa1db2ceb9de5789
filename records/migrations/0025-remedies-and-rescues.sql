-- Evening out a pack as somebody began it: the way with its settings, and what was foretold of it. The period of the
-- same entry tells from when until when.
create table remedy (
  entry_id    integer primary key references entry,
  way         text not null check (way in ('bleed', 'top-up', 'drain', 'charge-drain')),
  hours       double precision not null check (hours > 0),
  -- How far the rested groups would stand apart afterwards.
  spread_v    double precision not null check (spread_v >= 0),
  charge_a    double precision not null check (charge_a > 0),
  bleed_a     double precision not null check (bleed_a >= 0),
  -- After which the charger ends by itself; null: it does not.
  timer_s     double precision check (timer_s > 0),
  top_up_a    double precision not null check (top_up_a > 0),
  drain_a     double precision not null check (drain_a > 0)
);
create trigger keep before update or delete on remedy for each statement execute function keep_body();

-- A rescue as it was begun, beside its period.
create table rescue (
  entry_id    integer primary key references entry,
  current_a   double precision not null check (current_a > 0),
  -- Since what day it had lain below two volts, where somebody knew.
  below_since date
);
create trigger keep before update or delete on rescue for each statement execute function keep_body();

-- Every group at one moment of a rescue, the current on or just off.
create table rescue_reading (
  entry_id    integer primary key references entry,
  voltages_v  double precision[] not null check (cardinality(voltages_v) between 1 and 100),
  step        double precision not null check (step > 0),
  skin_c      double precision check (skin_c between -40 and 150),
  is_warm     boolean not null
);
create trigger keep before update or delete on rescue_reading for each statement execute function keep_body();

-- What somebody did in a rescue: the current off and why, on again, or over.
create table rescue_act (
  entry_id    integer primary key references entry,
  act         text not null check (act in ('off', 'on', 'end')),
  why         text not null
);
create trigger keep before update or delete on rescue_act for each statement execute function keep_body();

-- What a charger, tool or appliance said of a pack, and what the test showed that separates its causes.
create table complaint (
  entry_id    integer primary key references entry,
  said        text not null,
  answer      text not null
);
create trigger keep before update or delete on complaint for each statement execute function keep_body();
