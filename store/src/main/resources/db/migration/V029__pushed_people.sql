-- People as a source's client pushed them by SCIM, kept as they came, so that the client reads what it wrote.
create table pushed_person (
  id char(36) character set ascii collate ascii_bin not null primary key,
  source varchar(64) not null,
  user_name varchar(400) not null,
  user_key varchar(400) not null,
  external_id varchar(400) not null,
  worker_key varchar(64) not null,
  resource mediumtext not null,
  version int not null,
  created_at datetime(6) not null,
  modified_at datetime(6) not null,
  deleted_at datetime(6) null,
  -- null once deleted: a name may be taken again
  alive tinyint null default 1,
  unique key pushed_user (source, user_key, alive),
  unique key pushed_worker (source, worker_key, alive),
  key pushed_external (source, external_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
