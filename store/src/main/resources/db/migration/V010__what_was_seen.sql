-- What was last seen of an account stands beside what is planned of it. Native ids have any length, and belong to one account of an application.
set @@session.system_versioning_alter_history = keep;

alter table account
  add column seen_name varchar(210) not null default '',
  add column seen_container varchar(400) not null default '',
  add column seen_attributes json not null default '{}',
  modify native_id text null default null,
  add column native_key binary(32) null,
  drop key account_name,
  add key account_called (application, name),
  add unique key account_native (application, native_key);

update account
set native_id = nullif(native_id, ''),
  native_key = unhex(sha2(nullif(native_id, ''), 256)),
  seen_name = if(seen_state = 'none', '', name),
  seen_container = if(seen_state = 'none', '', container),
  seen_attributes = if(seen_state = 'none', '{}', attributes);

-- Whose a name in an application is: one account's, and for a while after that nobody's. The key is the name as applications compare it.
create table account_name (
  application varchar(64) not null,
  name_key varchar(210) not null,
  name varchar(210) not null,
  base_name varchar(200) not null,
  number int not null,
  account_id bigint not null,
  freed_at datetime(6) null,
  primary key (application, name_key),
  key account_name_base (application, base_name, number),
  key account_name_account (account_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

insert into account_name (application, name_key, name, base_name, number, account_id, freed_at)
select application, lower(name), min(name), min(base_name), min(number), min(id), if(max(state != 'none'), null, utc_timestamp(6))
from account
group by application, lower(name);

-- A lease is known by its token: what is written late, under an old one, changes nothing.
alter table lane
  add column lease_token bigint null,
  add column held_by bigint null,
  add key lane_lease (lease_token);

update lane
set held_by = (select min(o.id) from operation o where o.account_id = lane.account_id and o.state = 'fault' and o.opens_lane);

alter table operation
  add column superseded_by bigint not null default 0,
  add key operation_open (account_id, state);
