-- Resistances of packs: of each group from the black lead, or from terminal to terminal (position 0), in rounds that are
-- over packs instead of a batch.
alter table round
  alter column batch_id drop not null,
  -- What the wires of a balance connector add to a figure read through it, there and back; null where none was used.
  add column lead_ohm double precision check (lead_ohm > 0 and lead_ohm < 1);

create index on round (id) where batch_id is null;

alter table resistance add column position integer not null default 1 check (position >= 0);
alter table resistance drop constraint resistance_pkey, add primary key (entry_id, position);
alter table load_step add column position integer not null default 1 check (position >= 0);
alter table load_step drop constraint load_step_pkey, add primary key (entry_id, position);
alter table two_current add column position integer not null default 1 check (position >= 0);
alter table two_current drop constraint two_current_pkey, add primary key (entry_id, position);

create trigger is_a_group before insert on resistance for each row execute function is_a_group();
create trigger is_a_group before insert on load_step for each row execute function is_a_group();
create trigger is_a_group before insert on two_current for each row execute function is_a_group();
