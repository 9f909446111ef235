-- Folders that some file systems take for one share their versions' numbers; see NamePattern.folded.
alter table run add column folder_key varchar(1000);
update run set folder_key = lower(regexp_replace(folder, '^.*/([^/]+/[^/]+)/main/v[0-9]+$', '$1'));
-- What was written into the same folder before keeps its row, under a key of its own.
update run r set folder_key = folder_key || '#' || id
  where exists (select 1 from run o where o.folder_key = r.folder_key and o.number = r.number and o.id < r.id);
alter table run alter column folder_key set not null;
alter table run add constraint run_version unique (folder_key, number);
