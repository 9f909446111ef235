-- Samples, passes and formats are part of a shot's settings since V9.
alter table shot drop column samples;
alter table shot drop column passes;
alter table shot drop column formats;
alter table shot alter column settings drop default;
