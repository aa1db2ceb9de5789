-- A cross-check on the groups of a pack: channel n of an instrument reads group n. Null: on batteries of their own.
alter table cross_check add column subject_id integer references subject;
