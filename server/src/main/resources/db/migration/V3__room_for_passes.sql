-- Room for every pass of the catalogue.
alter table shot alter column passes varchar(2000) not null;
