-- What its modes are for: ends of lithium in volts a cell, nickel, lead; null: nobody noted it, it is taken to have all.
alter table charger add column modes text[] check (cardinality(modes) between 1 and 10);
