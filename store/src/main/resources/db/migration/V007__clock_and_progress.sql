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
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- As db-scheduler expects it.
create table scheduled_tasks (
  task_name varchar(100) not null,
  task_instance varchar(100) not null,
  task_data blob,
  execution_time timestamp(6) not null default current_timestamp(6),
  picked boolean not null,
  picked_by varchar(50),
  last_success timestamp(6) null,
  last_failure timestamp(6) null,
  consecutive_failures int,
  last_heartbeat timestamp(6) null,
  version bigint not null,
  priority smallint,
  primary key (task_name, task_instance),
  key scheduled_tasks_due (execution_time)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
