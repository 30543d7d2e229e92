-- What is to be told to people and programs outside: letters by SMTP, the rest over HTTP.
create table message (
  id bigint not null primary key,
  -- letter, or the kind of its channel
  kind varchar(16) not null,
  channel varchar(64) not null,
  -- whom it is about, and who gets it
  person_id bigint null,
  recipient_id bigint null,
  address varchar(320) not null,
  template varchar(64) not null,
  subject varchar(200) not null,
  body mediumtext not null,
  html mediumtext not null,
  -- a passcode, as long as it was not told
  sealed varchar(400) not null,
  state varchar(12) not null,
  tries int not null default 0,
  due_at datetime(6) null,
  lease_token bigint null,
  leased_until datetime(6) null,
  created_at datetime(6) not null,
  settled_at datetime(6) null,
  reason varchar(1000) not null,
  -- what the other end calls it, such as the number of a ticket
  answer varchar(200) not null,
  cause varchar(80) not null,
  -- the run that waits for it, and what it is there: the same thing is not told twice
  run_id bigint null,
  once_key varchar(120) not null,
  unique key message_once (once_key),
  key message_due (state, due_at),
  key message_person (person_id, id),
  key message_run (run_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
