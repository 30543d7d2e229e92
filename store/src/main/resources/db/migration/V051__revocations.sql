-- A revocation is a standing decision about a person and an entitlement or a package, whatever gives it.
set @@session.system_versioning_alter_history = keep;
rename table carve_out to revocation;
alter table revocation
  add column target_kind varchar(16) not null default 'entitlement' after person_id,
  change column entitlement target_key varchar(130) not null,
  change column made_at decided_at datetime(6) not null,
  change column made_by decided_by varchar(64) not null,
  add column from_at datetime(6) not null default '2000-01-01' after decided_by,
  add column until_at datetime(6) null after from_at,
  drop column grant_id,
  drop key carve_out_person,
  add key revocation_person (person_id, released_at);
update revocation
set from_at = decided_at
where released_at is null;

-- When somebody decided that a person shall have it; null where a rule gives it.
alter table access_grant
  add column decided_at datetime(6) null after basis_key;
update access_grant
set decided_at = starts_at
where basis in ('request', 'direct', 'discovered')
  and (ends_at is null or ends_at > utc_timestamp(6));
