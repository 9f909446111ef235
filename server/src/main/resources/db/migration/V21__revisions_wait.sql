-- A revision that has arrived and is not taken yet; and the upload that a mended one was made of.
alter table revision add column waiting boolean default false not null;
alter table revision add column origin varchar(64);
