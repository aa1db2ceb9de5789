-- Limits of one rescue alone, by house rule, and why they differ from the house's; null: it keeps to the house rules.
alter table rescue
  add column own_limits jsonb,
  add column own_reason text check (own_reason <> ''),
  add constraint own_limits_have_a_reason check ((own_limits is null) = (own_reason is null));
