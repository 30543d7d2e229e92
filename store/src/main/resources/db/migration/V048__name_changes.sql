-- Who got a name or another one: what replicas read that keep all names in memory.
create table name_change (
  id bigint not null primary key,
  -- by the database's clock
  at datetime(6) not null,
  -- their identities; null where they are too many to be named
  people json null,
  key name_change_at (at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
