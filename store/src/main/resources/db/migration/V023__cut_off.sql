-- Somebody who must go this minute, whatever their source says; the day stands with the person, so that every standing takes it in.
set @@session.system_versioning_alter_history = keep;

alter table person
  add column cut_off_on date null after absent_since;

create table cut_off (
  id bigint not null primary key,
  person_id bigint not null,
  at datetime(6) not null,
  by_login varchar(64) not null,
  reason varchar(1000) not null,
  event_id bigint not null,
  ended_at datetime(6) null,
  ended_by varchar(64) not null default '',
  ending varchar(16) not null default '',
  end_reason varchar(1000) not null default '',
  end_event_id bigint null,
  key cut_off_person (person_id, id),
  key cut_off_open (ended_at, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
