create table production (
  id bigint generated always as identity primary key,
  name varchar(200) not null unique,
  frame_rate double precision not null,
  width int not null,
  height int not null
);

insert into production (name, frame_rate, width, height) values ('New production', 24, 1920, 1080);

-- One imported state of a scene; its file lies in the data folder under scenes/<id>.
create table revision (
  id bigint generated always as identity primary key,
  production_id bigint not null references production(id),
  scene varchar(200) not null,
  number int not null,
  file_name varchar(400) not null,
  sha256 char(64) not null,
  report text not null,
  imported_at timestamp(3) not null,
  unique (production_id, scene, number)
);

create table shot (
  id bigint generated always as identity primary key,
  version int not null,
  production_id bigint not null references production(id),
  revision_id bigint not null references revision(id),
  name varchar(200) not null,
  camera varchar(400) not null,
  frames varchar(2000) not null,
  width int not null,
  height int not null,
  scale int not null,
  samples int not null,
  passes varchar(200) not null,
  formats varchar(100) not null,
  unique (production_id, name)
);

-- A batch that was let go; settings is the frozen document and the only thing a worker reads.
create table run (
  id bigint generated always as identity primary key,
  production_id bigint not null references production(id),
  shot_id bigint references shot(id) on delete set null,
  shot varchar(200) not null,
  number int not null,
  state varchar(20) not null,
  settings text not null,
  folder varchar(1000) not null,
  started_at timestamp(3) not null,
  ended_at timestamp(3),
  unique (production_id, shot, number)
);

-- The ledger: one row for each frame of a run.
create table frame (
  run_id bigint not null references run(id) on delete cascade,
  frame int not null,
  state varchar(20) not null,
  attempts int not null,
  seconds double precision,
  fingerprint varchar(64) not null,
  failure varchar(2000),
  primary key (run_id, frame)
);
create index frame_by_state on frame(run_id, state);
