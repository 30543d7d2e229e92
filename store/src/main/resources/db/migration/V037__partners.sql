-- What people of other organisations ask for by a link, before and after they confirm their address.
create table partner_ask (
  id bigint not null primary key,
  organisation varchar(64) not null,
  mail varchar(200) not null,
  -- what they say of themselves, what they ask for and how they answer, as JSON
  said text not null,
  -- what they accepted, which version, and when
  terms varchar(64) not null,
  terms_version int not null,
  accepted_at datetime(6) not null,
  key_hash binary(32) not null,
  expires_at datetime(6) not null,
  -- unconfirmed, confirmed
  state varchar(12) not null,
  worker_number varchar(64) null,
  request_id bigint null,
  confirmed_at datetime(6) null,
  unique key partner_ask_key (key_hash),
  key partner_ask_mail (organisation, mail, id),
  key partner_ask_state (state, expires_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- People whose record waits until somebody agrees that they count.
create table newcomer (
  person_id bigint not null primary key,
  source varchar(64) not null,
  -- their first and last day as they were said
  starts date not null,
  ends date null,
  request_id bigint not null,
  -- waits, counts, does-not
  state varchar(12) not null,
  since datetime(6) not null,
  settled_at datetime(6) null,
  key newcomer_state (state, person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Worker numbers that are made up here: the last one with each beginning.
create table made_up_number (
  beginning varchar(20) not null primary key,
  last bigint not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
