-- Of the entries that stand for one that was corrected or undone, one is valid at most.
update entry set voided_at = now(), void_reason = 'filed twice'
where voided_at is null and exists (
  select from entry first
  where first.replaces_id = entry.replaces_id and first.id < entry.id and first.voided_at is null);

create unique index entry_stands_for_one on entry (replaces_id) where voided_at is null;

-- Filing an entry again looks through all that replaced each other.
create index entry_replaces on entry (replaces_id) where replaces_id is not null;
