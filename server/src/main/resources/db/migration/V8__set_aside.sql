-- What could not be read, with the reason, when the form of documents changed.
create table set_aside (
  id bigint generated always as identity primary key,
  what varchar(400) not null,
  document text not null,
  reason varchar(2000) not null
);
