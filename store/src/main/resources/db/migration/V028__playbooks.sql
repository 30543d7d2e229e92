create table playbook_run (
  id bigint not null primary key,
  playbook varchar(64) not null,
  name varchar(200) not null,
  -- what it began on: a kind of event, demand, schedule, grant-begins, grant-ends
  began_on varchar(20) not null,
  person_id bigint not null,
  event_id bigint null,
  -- the day it is about; steps count from it
  day date not null,
  state varchar(12) not null,
  step int not null,
  reached_at datetime(6) not null,
  due_at datetime(6) null,
  tries int not null default 0,
  reason varchar(1000) not null,
  -- the application whose account it waits to see, and how
  awaits_application varchar(64) null,
  awaits_state varchar(12) null,
  began_at datetime(6) not null,
  began_by varchar(64) not null,
  ended_at datetime(6) null,
  revision int not null default 1,
  -- what begins a run once: the playbook, the person, what it is about
  once_key varchar(200) not null,
  unique key playbook_run_once (once_key),
  key playbook_run_due (state, due_at),
  key playbook_run_person (person_id, id),
  key playbook_run_playbook (playbook, state, id),
  key playbook_run_awaits (awaits_application, state)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table playbook_step (
  run_id bigint not null,
  number int not null,
  -- the step as its playbook said it when the run began
  said text not null,
  state varchar(12) not null,
  what varchar(1000) not null,
  settled_at datetime(6) null,
  settled_by varchar(64) not null,
  -- what it began elsewhere: an operation, a ticket
  reference varchar(100) not null,
  primary key (run_id, number)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What a run asks somebody.
create table ask (
  id bigint not null primary key,
  run_id bigint not null,
  step int not null,
  person_id bigint not null,
  question varchar(2000) not null,
  -- manager, or a duty with its application
  whom varchar(80) not null,
  duty varchar(40) not null,
  application varchar(64) not null,
  asked_at datetime(6) not null,
  lapses_at datetime(6) not null,
  state varchar(12) not null,
  answered_by varchar(64) not null,
  answered_at datetime(6) null,
  reason varchar(1000) not null,
  unique key ask_step (run_id, step),
  key ask_open (state, id),
  key ask_person (person_id, state)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What a playbook orders of an account beside what access gives: to be kept disabled, to be deleted once nobody needs it.
create table account_order (
  id bigint not null primary key,
  person_id bigint not null,
  application varchar(64) not null,
  kind varchar(12) not null,
  since datetime(6) not null,
  run_id bigint not null,
  ended_at datetime(6) null,
  key account_order_person (person_id, ended_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- How far each playbook has looked for days that come, and for grants that begin or end.
create table playbook_look (
  playbook varchar(64) not null primary key,
  until_at datetime(6) not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

set @@session.system_versioning_alter_history = keep;
alter table access_grant
  add key access_grant_begins (target_key, starts_at);

-- Whether playbooks were looked through for an event; what happened before there were any begins none.
alter table event
  add column played_at datetime(6) null,
  add key event_played (played_at, id);
update event set played_at = detected_at;
