alter table shot alter column recipe_id set not null;
alter table shot alter column delivery_id set not null;
