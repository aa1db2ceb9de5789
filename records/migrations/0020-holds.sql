-- Who was put to rest for a hold test: a period of that kind with its subjects. What one of them reads tells of the
-- others, too: they are judged against each other.
create index on period (entry_id) where kind = 'hold';
alter table occasion drop constraint occasion_kind_check,
  add constraint occasion_kind_check check (kind in ('round', 'cross-check', 'hold'));

drop trigger note_added on entry_subject;
create trigger note_added after insert on entry_subject referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed
     union select fellow.subject_id from changed join entry_subject own on own.subject_id = changed.subject_id
       join period on period.entry_id = own.entry_id and kind = ''hold'' and ended_at is null
       join entry_subject fellow on fellow.entry_id = period.entry_id');
drop trigger note_voided on entry;
create trigger note_voided after update on entry referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry_subject on entry_id = changed.id
     union select fellow.subject_id from changed join entry_subject voided on voided.entry_id = changed.id
       join entry_subject own on own.subject_id = voided.subject_id
       join period on period.entry_id = own.entry_id and kind = ''hold''
       join entry_subject fellow on fellow.entry_id = period.entry_id');
create trigger note_ended after update on period referencing new table as changed
  for each statement execute function note_change(
    'select subject_id from changed join entry_subject using (entry_id) where kind = ''hold'' and ended_at is not null');
