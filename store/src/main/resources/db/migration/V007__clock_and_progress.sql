-- Only a demo or test has a row here; otherwise the clock is the system's.
create table movable_clock (
  one tinyint not null primary key,
  at datetime(6) not null
);

create table progress (
  id bigint not null primary key,
  what varchar(200) not null,
  state varchar(12) not null,
  done int not null,
  total int not null,
  sentence varchar(1000) not null,
  result longtext not null,
  started_at datetime(6) not null,
  ended_at datetime(6) null
) engine = innodb default charset = utf8mb4;
