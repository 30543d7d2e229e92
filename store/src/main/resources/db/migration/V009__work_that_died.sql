-- Work that goes on shows itself now and then, by the system's clock; what does not has died with its service.
alter table progress
  add column alive_at datetime(6) null,
  add key progress_state (state);

alter table feed
  add column work_id bigint not null default 0;
