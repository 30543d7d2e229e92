-- Which installation this database belongs to, and whether it may act. One row, with id 1.
create table installation (
  id tinyint not null primary key,
  identity varchar(200) not null,
  quiet_since datetime(6) null,
  quiet_reason varchar(1000) not null default '',
  released_at datetime(6) null,
  released_by varchar(64) not null default '',
  release_reason varchar(1000) not null default ''
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
