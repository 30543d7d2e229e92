-- How many full feeds in a row, on as many days, did not name somebody who has not left yet; which was the last of them, and on which day it was counted.
set @@session.system_versioning_alter_history = keep;

alter table person
  add column missing_feeds int not null default 0 after absent_since,
  add column missing_feed bigint null after missing_feeds,
  add column missing_on date null after missing_feed,
  add key person_missing (missing_feeds);

-- An application's accounts are listed to the last page.
alter table account
  add key account_application (application, id);
