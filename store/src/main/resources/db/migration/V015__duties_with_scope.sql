-- A duty is given for everything or for one thing, for a time, by somebody; it ends with who, when and why.
create table duty_assignment (
  id bigint not null primary key,
  login varchar(64) not null,
  duty varchar(40) not null,
  scope_kind varchar(40) not null default 'everything',
  scope_key varchar(200) not null default '',
  from_day date null,
  until_day date null,
  given_by varchar(64) not null,
  given_at datetime(6) not null,
  reason varchar(1000) not null default '',
  ended_at datetime(6) null,
  ended_by varchar(64) not null default '',
  end_reason varchar(1000) not null default '',
  -- Nobody has the same duty for the same thing twice at once.
  open_key varchar(400) as (if(ended_at is null, concat_ws('\n', login, duty, scope_kind, scope_key), null)) virtual,
  unique key duty_assignment_open (open_key),
  key duty_assignment_login (login),
  constraint duty_assignment_login_fk foreign key (login) references login (name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

insert into duty_assignment (id, login, duty, given_by, given_at, reason)
select i.next_id + row_number() over (order by d.login, d.duty) - 1, d.login, d.duty, 'glenmoor', l.created_at, 'as it was before duties had a scope'
from duty d
  join login l on l.name = d.login
  join id_block i on i.name = 'all';

update id_block set next_id = next_id + (select count(*) from duty) where name = 'all';

drop table duty;

-- A password that somebody else chose must be changed before anything else is done with it.
alter table login
  add column must_change boolean not null default false;

-- A token may carry less than its owner's duties hold; empty is all of it.
alter table service_token
  add column permissions varchar(1000) not null default '';

-- Sessions are kept under the hash of what the browser brings, so that nobody who reads this table can go on with one. Those there are end.
delete from SPRING_SESSION;
alter table SPRING_SESSION modify SESSION_ID char(64) not null;
