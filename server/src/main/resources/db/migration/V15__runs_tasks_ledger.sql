-- A run is what was started together; run_strand is one strand of it; task is one thing to do for it.
alter table run rename to run_strand;
alter table run_strand drop constraint if exists run_version;

create table run (
  id bigint generated always as identity primary key,
  production_id bigint not null references production(id),
  number int not null,
  comb boolean default false not null,
  priority int default 0 not null,
  started_at timestamp(3) not null,
  unique (production_id, number)
);
insert into run (production_id, number, started_at)
  select production_id, batch, min(started_at) from run_strand group by production_id, batch
  order by 1, 2;

alter table run_strand add column run_id bigint;
update run_strand s set run_id =
  (select id from run r where r.production_id = s.production_id and r.number = s.batch);
alter table run_strand alter column run_id set not null;
alter table run_strand add constraint run_strand_run foreign key (run_id) references run(id) on delete cascade;
alter table run_strand drop column batch;
alter table run_strand alter column number rename to version;
alter table run_strand add column layer_id bigint;
update run_strand s set layer_id = (
  select d.id from definition d
  where d.production_id = s.production_id and d.kind = 'layer' and d.name = s.layer);
alter table run_strand add column priority int default 0 not null;
-- False while its frames are still being turned into tasks; what has become of them is counted here.
alter table run_strand add column is_planned boolean default true not null;
alter table run_strand add column total int default 0 not null;
alter table run_strand add column planned int default 0 not null;
alter table run_strand add column fresh int default 0 not null;
alter table run_strand add column saved int default 0 not null;
alter table run_strand add column copied int default 0 not null;
alter table run_strand add column failed int default 0 not null;
alter table run_strand add column skipped int default 0 not null;
alter table run_strand add column seconds double precision default 0 not null;
alter table run_strand add column timed int default 0 not null;
alter table run_strand add column share_cut double precision;
alter table run_strand add column failure varchar(2000);
create index run_strand_key on run_strand(folder_key, version);
create index run_strand_of on run_strand(shot_id, layer_id);

create table task (
  id bigint generated always as identity primary key,
  strand_id bigint not null references run_strand(id) on delete cascade,
  kind varchar(10) not null,
  -- Null for what is done once for the strand.
  frame int,
  -- The frame whose picture it gets: another one if both are made from the same.
  source int,
  -- Among the tasks of its strand, the least first.
  rank int not null,
  state varchar(20) not null,
  attempts int not null,
  seconds double precision,
  share_cut double precision,
  points int,
  fingerprint varchar(64),
  failure varchar(2000),
  lease varchar(36),
  lease_until timestamp(3),
  ended_at timestamp(3),
  unique (strand_id, kind, frame)
);
insert into task (strand_id, kind, frame, source, rank, state, attempts, seconds, share_cut, fingerprint, failure)
  select run_id, 'FRAME', frame, frame, frame, state, attempts, seconds, share_cut, fingerprint, failure
  from frame;
insert into task (strand_id, kind, rank, state, attempts, seconds, points, failure)
  select run_id, 'BAKE', 0, state, attempts, seconds, points, failure from bake;
create index task_by_state on task(strand_id, state, rank);
create index task_by_source on task(strand_id, source);
create index task_by_end on task(strand_id, ended_at);
create table tally as
  select strand_id, count(*) as total, sum(case state when 'FRESH' then 1 else 0 end) as fresh,
    sum(case state when 'FAILED' then 1 else 0 end) as failed,
    sum(case state when 'SKIPPED' then 1 else 0 end) as skipped,
    coalesce(sum(seconds), 0) as seconds, count(seconds) as timed, max(share_cut) as share_cut
  from task where kind = 'FRAME' group by strand_id;
update run_strand s set (total, planned, fresh, failed, skipped, seconds, timed, share_cut) =
  (select total, total, fresh, failed, skipped, seconds, timed, share_cut
   from tally t where t.strand_id = s.id)
  where id in (select strand_id from tally);
drop table tally;
drop table frame;
drop table bake;

-- Objects and lights of frames, each list once.
create table content (
  hash char(32) primary key,
  body text not null
);

create table ledger (
  shot_id bigint not null references shot(id) on delete cascade,
  layer_id bigint not null references definition(id),
  frame int not null,
  -- Where its files are, and with what settings they were made.
  strand_id bigint not null references run_strand(id) on delete cascade,
  source int not null,
  -- Fingerprints of its parts; empty if they are not known.
  parts varchar(1000) not null,
  fingerprint varchar(64) not null,
  things char(32) references content(hash),
  places varbinary(1000000),
  met varbinary(1000000),
  -- Of the settings with which it was last found fresh.
  basis char(32) not null,
  seconds double precision,
  samples int not null,
  noise double precision,
  bytes bigint not null,
  mark varchar(10),
  note varchar(400),
  primary key (shot_id, layer_id, frame)
);
-- What trials of frames found, by what they were made from.
create table trial (
  basis char(32) not null,
  frame int not null,
  building double precision not null,
  per_sample double precision not null,
  per_pixel double precision not null,
  bytes_per_pixel double precision not null,
  primary key (basis, frame)
);

insert into ledger (shot_id, layer_id, frame, strand_id, source, parts, fingerprint, basis, seconds, samples, bytes)
  select s.shot_id, s.layer_id, t.frame, max(s.id), t.frame, '', max(t.fingerprint), '', max(t.seconds), 0, 0
  from task t join run_strand s on s.id = t.strand_id
  where t.kind = 'FRAME' and t.state = 'FRESH' and s.shot_id is not null and s.layer_id is not null
  group by s.shot_id, s.layer_id, t.frame;
