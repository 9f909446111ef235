-- What a shot says about rendering beside its samples; JSON, docs/settings.md.
alter table shot add column settings text default '{}' not null;
