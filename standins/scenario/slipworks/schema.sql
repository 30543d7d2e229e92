-- Slipworks, planned maintenance: its own users and permissions, in a schema of its own.
create table if not exists users (
  id int auto_increment primary key,
  login varchar(80) not null unique,
  staff_no varchar(40) null unique,
  full_name varchar(200) not null,
  trade varchar(80) null,
  active boolean not null default true
) engine = innodb default charset = utf8mb4;

create table if not exists permissions (
  code varchar(30) primary key,
  title varchar(100) not null
) engine = innodb default charset = utf8mb4;

create table if not exists user_permissions (
  user_id int not null,
  permission varchar(30) not null,
  primary key (user_id, permission),
  foreign key (user_id) references users (id) on delete cascade,
  foreign key (permission) references permissions (code)
) engine = innodb default charset = utf8mb4;

create table if not exists sessions (
  token char(32) primary key,
  user_id int not null,
  since timestamp not null default current_timestamp,
  foreign key (user_id) references users (id) on delete cascade
) engine = innodb default charset = utf8mb4;

insert ignore into permissions (code, title) values
  ('READ_JOBS', 'See jobs'),
  ('WORK_JOBS', 'Work on jobs and close them'),
  ('PLAN_SLIPS', 'Plan slips and dockings');
