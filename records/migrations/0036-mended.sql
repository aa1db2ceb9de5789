-- Groups of a pack that were mended: codes of the cells that left, as far as they were known, and of those that came.
create table mended (
  entry_id  integer not null references entry,
  position  integer not null check (position > 0),
  taken_out text[] not null,
  put_in    text[] not null check (cardinality(put_in) > 0),
  primary key (entry_id, position)
);
create trigger keep before update or delete on mended for each statement execute function keep_body();
