-- Notices are kept as facts under a code, and their sentences made when they are shown. Those kept as sentences until now
-- stay as they were written.
create function as_noted(warnings jsonb) returns jsonb language sql immutable as $$
  select coalesce(
    jsonb_agg(jsonb_build_object('code', 'as-noted', 'about', one ->> 'code', 'text', one ->> 'message') order by place),
    '[]')
  from jsonb_array_elements(warnings) with ordinality as each (one, place)
$$;

alter table run disable trigger keep;
update run set notices = as_noted(notices) where notices <> '[]';
alter table run enable trigger keep;
update run_result
  set result = jsonb_set(result, '{warnings}', as_noted(result -> 'warnings'))
  where jsonb_typeof(result -> 'warnings') = 'array';

drop function as_noted;
