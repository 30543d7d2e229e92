-- What somebody asks for again and again.
create table saved_ask (
  id bigint not null primary key,
  login varchar(64) not null,
  name varchar(100) not null,
  -- offers with answers and reason, as JSON
  asks text not null,
  saved_at datetime(6) not null,
  unique key saved_ask_name (login, name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
