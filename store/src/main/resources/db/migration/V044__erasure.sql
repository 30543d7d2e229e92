-- Whoever is erased keeps their worker number, so that a source that still names them does not bring them back.
set @@session.system_versioning_alter_history = keep;

alter table person
  add column erased_on date null after cut_off_on;

-- Who was erased. By the terms they are found in other texts and in the past; once that is done there are none any more.
create table erasure (
  person_id bigint not null,
  erased_at datetime(6) not null,
  terms longtext not null,
  forgotten_at datetime(6) null,
  texts int not null default 0,
  primary key (person_id, erased_at),
  key erasure_open (forgotten_at, erased_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- The leaf (RFC 9162, section 2.1.1) that the entry had before what it says of somebody was erased.
alter table ledger_entry
  add column leaf binary(32) null;

-- The digest of what was decided, as it was signed for, before what it says of somebody was erased.
alter table campaign_item
  add column signed_line binary(32) null;
