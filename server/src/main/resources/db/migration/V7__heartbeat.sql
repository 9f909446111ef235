-- Written to find out whether the database can be written to.
create table heartbeat (id int primary key, at timestamp(3) not null);
