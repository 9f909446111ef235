-- Layers, recipes and deliveries: what a production makes under names, each a typed document.
create table definition (
  id bigint generated always as identity primary key,
  version int not null,
  production_id bigint not null references production(id),
  kind varchar(20) not null,
  name varchar(100) not null,
  place int not null,
  document text not null,
  removed boolean default false not null,
  unique (production_id, kind, name)
);

-- One layer of one shot. What is null comes from the layer, or else from the shot.
create table strand (
  id bigint generated always as identity primary key,
  shot_id bigint not null references shot(id),
  layer_id bigint not null references definition(id),
  is_on boolean not null,
  recipe_id bigint references definition(id),
  delivery_id bigint references definition(id),
  passes text,
  unique (shot_id, layer_id)
);

alter table shot add column place int default 0 not null;
update shot set place = id;
alter table shot add column recipe_id bigint references definition(id);
alter table shot add column delivery_id bigint references definition(id);

-- Versions are counted for each strand.
alter table run drop constraint if exists run_version;
update run set folder_key = regexp_replace(folder_key, '(#[0-9]+)?$', '/main$1');
alter table run add constraint run_version unique (folder_key, number);

-- Strands that were started together have one batch number, counted for each production.
alter table run add column batch int;
update run r set batch =
  (select count(*) from run o where o.production_id = r.production_id and o.id <= r.id);
alter table run alter column batch set not null;
alter table run add column layer varchar(100) default 'main' not null;
