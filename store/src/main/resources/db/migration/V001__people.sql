-- Identities are handed out in blocks, so that no replica waits for another and none relies on auto-increment.
create table id_block (
  name varchar(20) not null primary key,
  next_id bigint not null
);
insert into id_block values ('all', 1);

create table person (
  id bigint not null primary key,
  worker_number varchar(64) not null,
  name varchar(400) not null,
  -- the name in small Latin letters: what lists are sorted and searched by
  search_name varchar(400) not null,
  facts json not null,
  source varchar(64) not null,
  -- of the facts as the source gave them: the same digest means nothing to compare
  source_digest binary(16) not null,
  starts_on date null,
  ends_on date null,
  leave_from date null,
  leave_to date null,
  absent_since date null,
  -- the next moment at which planning for this person may give something else
  due_at datetime(6) null without system versioning,
  -- what made it due: date, feed:12, definitions:3
  due_cause varchar(80) not null default 'date' without system versioning,
  revision int not null default 1,
  unique key person_worker (worker_number),
  key person_name (search_name(100), id),
  key person_due (due_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

create table login (
  name varchar(64) not null primary key,
  person_id bigint null,
  display_name varchar(400) not null,
  password_hash varchar(300) not null,
  created_at datetime(6) not null,
  key login_person (person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table duty (
  login varchar(64) not null,
  duty varchar(40) not null,
  primary key (login, duty),
  constraint duty_login foreign key (login) references login (name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table service_token (
  token_hash binary(32) not null primary key,
  login varchar(64) not null,
  note varchar(200) not null,
  created_at datetime(6) not null,
  expires_at datetime(6) not null,
  constraint service_token_login foreign key (login) references login (name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
