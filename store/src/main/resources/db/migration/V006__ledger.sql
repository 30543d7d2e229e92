-- position stays empty until an entry is sealed into the chain.
create table ledger_entry (
  id bigint not null primary key,
  happened_at datetime(6) not null,
  actor varchar(80) not null,
  cause varchar(80) not null,
  subject varchar(150) not null,
  what varchar(40) not null,
  entry longtext not null,
  position bigint null,
  key ledger_subject (subject, id),
  key ledger_time (happened_at, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
