alter table production add column version int default 1 not null;
-- Under which its pages are found.
alter table production add column address varchar(200);
update production set address = trim(both '-' from lower(regexp_replace(name, '[^\p{L}\p{N}]+', '-')));
update production p set address = address || '-' || id
  where address = '' or exists (select 1 from production o where o.address = p.address and o.id < p.id);
alter table production alter column address set not null;
alter table production add constraint production_address unique (address);
alter table production add column archived boolean default false not null;

-- What is removed stays, under a name of its own, so that it can be taken back with its runs.
alter table shot add column removed boolean default false not null;
alter table revision add column removed boolean default false not null;

-- What was changed, so that it can be undone. What one request changed has one number as its step.
create table change (
  id bigint generated always as identity primary key,
  step bigint not null,
  production_id bigint not null references production(id),
  changed_in varchar(60) not null,
  changed_at timestamp(3) not null,
  kind varchar(20) not null,
  entity_id bigint not null,
  state_before text,
  state_after text,
  sentence varchar(400) not null,
  undone boolean default false not null
);
create index change_by_window on change(production_id, changed_in, undone);
create index change_by_entity on change(kind, entity_id);
