create table feed (
  id bigint not null primary key,
  source varchar(64) not null,
  file_name varchar(200) not null,
  state varchar(12) not null,
  sentence varchar(1000) not null,
  rows_read int not null default 0,
  rows_rejected int not null default 0,
  counts json not null,
  started_at datetime(6) not null,
  ended_at datetime(6) null,
  loaded_by varchar(64) not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table feed_reject (
  feed_id bigint not null,
  number int not null,
  line bigint not null,
  worker varchar(200) not null,
  column_name varchar(200) not null,
  found varchar(400) not null,
  expected varchar(1000) not null,
  primary key (feed_id, number)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Changed people on their way from a file into person; emptied in the transaction that filled it.
create table feed_staged (
  feed_id bigint not null,
  person_id bigint not null,
  name varchar(400) not null,
  search_name varchar(400) not null,
  facts longtext not null,
  source_digest binary(16) not null,
  starts_on date null,
  ends_on date null,
  leave_from date null,
  leave_to date null,
  absent_since date null,
  primary key (feed_id, person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table event (
  id bigint not null primary key,
  person_id bigint not null,
  kind varchar(20) not null,
  effective_on date not null,
  feed_id bigint null,
  changes text not null,
  detected_at datetime(6) not null,
  planned_at datetime(6) null,
  key event_person (person_id, detected_at),
  key event_feed (feed_id),
  key event_detected (detected_at, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
