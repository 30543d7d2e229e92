-- When it was last told that tasks of an application wait, and to whom.
create table task_reminder (
  application varchar(64) not null,
  told varchar(12) not null,
  at datetime(6) not null,
  primary key (application, told)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
