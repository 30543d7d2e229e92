-- A sign-in that was taken away, or ended with its person's standing, stays on record. Sessions name the sign-in's epoch: another password, or an end, begins a new one.
alter table login
  add column epoch int not null default 1,
  add column ended_at datetime(6) null,
  add column end_reason varchar(1000) not null default '';

alter table service_token
  add column revoked_at datetime(6) null,
  add column revoked_by varchar(64) not null default '',
  add key service_token_login_key (login);

-- Long work is shown to who began it, and to those who see everything.
alter table progress
  add column owner varchar(64) not null default '';
