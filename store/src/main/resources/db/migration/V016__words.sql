-- One word for one thing: what a holding should be and was last seen to be; since when nobody needs an account; what blocks a lane.
set @@session.system_versioning_alter_history = keep;

alter table holding
  rename column wanted to desired,
  rename column held to observed,
  rename column held_since to observed_since;

alter table account
  rename column held_since to unneeded_since;

alter table lane
  rename column held_by to blocked_by;

rename table progress to job;
