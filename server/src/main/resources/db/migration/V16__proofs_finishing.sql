-- What a run was started for, and the warnings that somebody had read then, as a list in JSON.
alter table run add column kind varchar(10) default 'BATCH' not null;
alter table run add column warnings text;
-- The frames that were chosen, as a range; null for all of the shot.
alter table run_strand add column chosen varchar(4000);
-- What finishing makes: a film, a contact sheet, a manifest. Null for other kinds of tasks.
alter table task add column extra varchar(20);
-- When all is to be ready; null if that does not matter.
alter table production add column deadline timestamp(3);

-- Frames by which the settings of a strand are judged.
create table proof (
  shot_id bigint not null references shot(id) on delete cascade,
  layer_id bigint not null references definition(id),
  frame int not null,
  why varchar(10) not null,
  camera varchar(200) not null,
  verdict varchar(10),
  note varchar(400),
  -- Of the picture that was judged.
  fingerprint varchar(64),
  primary key (shot_id, layer_id, frame)
);

-- How the noise of a frame falls with its samples; what was tried before is tried again.
delete from trial;
alter table trial add column noise double precision not null;
alter table trial add column bend double precision not null;
-- Tasks that finish a strand and have not come to an end.
alter table run_strand add column to_finish int default 0 not null;
