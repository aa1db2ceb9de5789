-- A device that was adjusted itself: what a channel showed, and what it was set to show. From then on its readings need
-- no correction; an earlier one no longer counts.
alter table calibration
  drop constraint calibration_kind_check,
  add constraint calibration_kind_check check (kind in ('offset', 'line', 'adjusted')),
  add column showed_v double precision,
  add column set_to_v double precision,
  add constraint adjusted_has_both_values
    check ((kind = 'adjusted') = (showed_v is not null) and (kind = 'adjusted') = (set_to_v is not null));
