-- Whoever listens hears which transaction stored something, and so knows whether a picture taken before shows it. They
-- are heard in the order in which they became visible.
create or replace function announce() returns trigger language plpgsql as $$
begin
  perform pg_notify('workshop', pg_current_xact_id()::text);
  return null;
end $$;
