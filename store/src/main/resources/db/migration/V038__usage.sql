-- When accounts, and single rights of them, were used last. The entitlement is empty for the account itself.
create table access_use (
  account_id bigint not null,
  entitlement varchar(130) not null,
  last_used datetime(6) not null,
  told_at datetime(6) not null,
  primary key (account_id, entitlement)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What a file or a call tells, until it is joined to accounts.
create table told_use (
  batch_id bigint not null,
  line int not null,
  account varchar(210) not null,
  worker varchar(64) not null,
  entitlement varchar(130) not null,
  last_used datetime(6) not null,
  account_id bigint null,
  primary key (batch_id, line),
  key told_use_account (batch_id, account),
  key told_use_worker (batch_id, worker)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
