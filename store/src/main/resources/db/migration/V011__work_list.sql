-- A difference between what should be and what was seen that somebody answers for, until a date.
create table deviation (
  id bigint not null primary key,
  account_id bigint not null,
  person_id bigint not null,
  application varchar(64) not null,
  aspect varchar(150) not null,
  operation_id bigint not null,
  accepted_by varchar(64) not null,
  reason varchar(1000) not null,
  accepted_at datetime(6) not null,
  until_at datetime(6) not null,
  ended_at datetime(6) null,
  end_reason varchar(200) not null default '',
  key deviation_person (person_id, ended_at),
  key deviation_application (application, ended_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- People about whom something could not be computed. Without a place they could not be planned at all, and are set aside.
create table trouble (
  person_id bigint not null,
  place varchar(200) not null,
  sentence varchar(1000) not null,
  since datetime(6) not null,
  primary key (person_id, place)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
