-- Whoever listens hears that something was stored, once a transaction, and asks then what stands there.
create function announce() returns trigger language plpgsql as $$
begin
  perform pg_notify('workshop', '');
  return null;
end $$;
do $$
declare kept text;
begin
  foreach kept in array array['entry', 'period', 'run_result', 'subject', 'batch', 'cell_model', 'build', 'build_cell',
    'occasion', 'cross_check_battery', 'calibration', 'correction', 'instrument', 'protocol', 'house_rules', 'backup'] loop
    execute format(
      'create trigger announce after insert or update on %I for each statement execute function announce()', kept);
  end loop;
end $$;
