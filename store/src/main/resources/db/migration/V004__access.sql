create table access_grant (
  id bigint not null primary key,
  person_id bigint not null,
  target_kind varchar(12) not null,
  target_key varchar(130) not null,
  basis varchar(12) not null,
  basis_key varchar(130) not null,
  starts_at datetime(6) not null,
  ends_at datetime(6) null,
  end_reason varchar(200) not null default '',
  key access_grant_person (person_id),
  key access_grant_target (target_key, ends_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;
