-- What is approved again after somebody moved: one row a package and move.
create table reapproval (
  id bigint not null primary key,
  person_id bigint not null,
  package_key varchar(64) not null,
  move_id bigint not null,
  moved_at datetime(6) not null,
  -- until when it is kept meanwhile, and when it would have ended; null for never
  keep_until datetime(6) not null,
  end_before datetime(6) null,
  state varchar(16) not null,
  line_id bigint null,
  settled_at datetime(6) null,
  unique key reapproval_move (person_id, package_key, move_id),
  key reapproval_state (state, id),
  key reapproval_line (line_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
