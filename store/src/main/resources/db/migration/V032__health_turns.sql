-- When an application became well or unwell, so that its health can be seen through time.
create table health_turn (
  id bigint not null primary key,
  application varchar(64) not null,
  state varchar(12) not null,
  sentence varchar(1000) not null,
  at datetime(6) not null,
  key health_turn_application (application, at, id),
  key health_turn_at (at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

insert into health_turn (id, application, state, sentence, at)
select row_number() over (order by application), application, state, sentence, since
from application_health;
