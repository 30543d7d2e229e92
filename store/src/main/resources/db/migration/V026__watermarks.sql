-- How far a source's view was read: what is kept, and what will be once the work that loads it has taken it.
create table source_watermark (
  source varchar(64) not null primary key,
  value varchar(64) not null,
  pending varchar(64) null,
  pending_work bigint null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
