-- Files that were written for applications that take files, and when each was answered.
create table order_file (
  id bigint not null primary key,
  application varchar(64) not null,
  name varchar(200) not null,
  contents varchar(12) not null,
  row_count int not null,
  written_by varchar(64) not null,
  written_at datetime(6) not null,
  answered_at datetime(6) null,
  accounts int not null default 0,
  problems int not null default 0,
  unique key order_file_name (application, name),
  key order_file_written (application, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
