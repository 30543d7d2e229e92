-- Rights that people are not given any more by a grant that would; grant 0: by no rule.
create table carve_out (
  id bigint not null primary key,
  person_id bigint not null,
  entitlement varchar(130) not null,
  grant_id bigint not null,
  made_at datetime(6) not null,
  made_by varchar(64) not null,
  cause varchar(80) not null,
  reason varchar(1000) not null,
  released_at datetime(6) null,
  released_by varchar(64) not null default '',
  release_reason varchar(1000) not null default '',
  key carve_out_person (person_id, released_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

-- Whoever ends a grant says why at more length than this had room for.
set @@session.system_versioning_alter_history = keep;
alter table access_grant
  modify column end_reason varchar(1000) not null default '';
