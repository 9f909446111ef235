-- Light that a run's frames wait for, in the ledger.
create table bake (
  run_id bigint primary key references run(id) on delete cascade,
  state varchar(20) not null,
  attempts int not null,
  seconds double precision,
  points int,
  failure varchar(2000)
);
