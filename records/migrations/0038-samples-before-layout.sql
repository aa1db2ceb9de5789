-- Samples go in while their file is read, before what was read of it; by the end of that transaction both are there.
alter table sample_block alter constraint sample_block_layout_id_fkey deferrable initially deferred;
