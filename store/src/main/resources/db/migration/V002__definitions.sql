create table definition (
  kind varchar(20) not null,
  definition_key varchar(130) not null,
  body json not null,
  loaded_at datetime(6) not null,
  loaded_by varchar(64) not null,
  primary key (kind, definition_key)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

create table definition_revision (
  one tinyint not null primary key,
  revision bigint not null
);
insert into definition_revision values (1, 0);
