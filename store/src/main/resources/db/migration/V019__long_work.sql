-- Long work is a job that any replica can take: what it is given and who asked for it stand with it.
alter table job
  drop column alive_at,
  add column kind varchar(40) not null default '' after id,
  add column input longtext not null default '{}',
  add column limits varchar(1000) not null default '',
  add column attempts int not null default 0,
  add column kept boolean not null default false,
  add column cancel_wanted boolean not null default false,
  add column errors longtext not null default '[]',
  add key job_owner (owner, started_at),
  add key job_started (started_at);

-- What was running came from an earlier version, which cannot be taken up.
update job
set state = 'failed', ended_at = started_at,
  sentence = 'The service ended while this went on. Look how far it came, and start it again if need be.'
where state = 'running';

-- What work is given besides, such as a file, packed and in parts.
create table job_part (
  job_id bigint not null,
  number int not null,
  bytes longblob not null,
  kept_at datetime(6) not null default sysdate(6),
  primary key (job_id, number),
  key job_part_kept (kept_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- As db-scheduler expects it; apart from what recurs, so that long work never keeps a sweep waiting.
create table job_queue like scheduled_tasks;

-- A feed is in the list from the moment it is brought, and feeds of a source are taken in that order.
alter table feed
  add key feed_work (work_id),
  add key feed_source_state (source, state, id);

-- Whose planning becomes due is marked a stretch of people at a time: how far, and whom it concerns.
create table due_mark (
  id bigint not null primary key,
  cause varchar(80) not null,
  applications longtext not null,
  targets longtext not null,
  everybody boolean not null,
  after_id bigint not null default -9223372036854775808
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- The services whose workers are at work, by the database's time: what an application bears is shared among them.
create table worker_replica (
  id varchar(13) not null primary key,
  alive_at datetime(6) not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
