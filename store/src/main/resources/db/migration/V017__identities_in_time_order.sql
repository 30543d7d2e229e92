-- Identities are made by the services themselves, in time order; each takes a number when it starts.
create table replica_number (
  one tinyint not null primary key,
  last int not null
);
insert into replica_number values (1, 0);
drop table id_block;
