-- A client reads its people page by page: each order is an index's, to the last page.
alter table pushed_person
  add key pushed_alive (source, alive, id),
  add key pushed_modified (source, alive, modified_at, id),
  drop key pushed_user,
  add unique key pushed_user (source, alive, user_key);
