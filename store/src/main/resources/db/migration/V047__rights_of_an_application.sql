-- All rights that the accounts of one application should have are read from the index alone: looking each account up took a third of the database's time for a comparison.
set @@system_versioning_alter_history = keep;
alter table holding
  drop key holding_entitlement,
  add key holding_entitlement (entitlement, observed, desired);
