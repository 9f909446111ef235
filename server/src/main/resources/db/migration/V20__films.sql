-- Films and sequences that are put together, and what is to be done for them.
create table film (
  id bigint generated always as identity primary key,
  production_id bigint not null references production(id) on delete cascade,
  name varchar(60) not null,
  version int not null,
  state varchar(20) not null,
  -- JSON: everything that is needed to make it again.
  document text not null,
  folder varchar(1000) not null,
  total int not null,
  failure varchar(2000),
  started_at timestamp(3) not null,
  ended_at timestamp(3),
  unique (production_id, name, version)
);
create table film_task (
  id bigint generated always as identity primary key,
  film_id bigint not null references film(id) on delete cascade,
  -- Of a frame, from 0; that of the whole is behind all frames.
  place int not null,
  state varchar(20) not null,
  attempts int not null,
  seconds double precision,
  failure varchar(2000),
  -- What there is to say about the inputs, a line for each sentence.
  said varchar(4000),
  unique (film_id, place)
);
create index film_task_by_state on film_task(film_id, state, place);

-- What was handed over.
create table handover (
  id bigint generated always as identity primary key,
  production_id bigint not null references production(id) on delete cascade,
  path varchar(1000) not null,
  is_zip boolean not null,
  state varchar(20) not null,
  titles varchar(4000) not null,
  files int not null,
  bytes bigint not null,
  failure varchar(2000),
  started_at timestamp(3) not null
);
