-- What an application listed is written, joined once and deleted: each index on it costs more than it gives, but the two it is joined and compared by.
alter table found_account
  drop key found_native,
  drop key found_worker;
