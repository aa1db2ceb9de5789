-- As the device numbered its cycles and the steps of its program, where its log tells them.
alter table sample_block
  add column cycle double precision[] compression lz4,
  add column step  double precision[] compression lz4,
  add check (cardinality(cycle) = samples and cardinality(step) = samples);
