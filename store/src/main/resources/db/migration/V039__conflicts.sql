-- People who break a conflict rule, as it was found; over once it is found no more.
create table conflict (
  id bigint not null primary key auto_increment,
  person_id bigint not null,
  rule_key varchar(64) not null,
  found_at datetime(6) not null,
  ended_at datetime(6) null,
  -- one that is open for a person and rule
  open_key varchar(90) null,
  unique key conflict_open (open_key),
  key conflict_rule (rule_key, ended_at, id),
  key conflict_person (person_id, ended_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What a scan finds, until it is compared with what is known.
create table conflict_found (
  rule_key varchar(64) not null,
  person_id bigint not null,
  primary key (rule_key, person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Up to what a scan has looked.
create table conflict_scan (
  one tinyint not null primary key,
  marker varchar(200) not null,
  scanned_at datetime(6) null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
insert into conflict_scan values (1, '', null);

alter table exemption
  add key exemption_over (ended_at, until_at);
