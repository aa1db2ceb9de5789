-- Of a charger that charges through the balance connector, so much; null: it charges at the main leads.
alter table charger add column plug_a double precision check (plug_a > 0);
