-- The current under which a round of a pack was read, where somebody told it; without it a load tells no resistance.
alter table entry add column current_a double precision check (current_a > 0);
alter table entry add check (current_a is null or state in ('load', 'discharge-end'));
