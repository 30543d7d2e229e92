-- The demo's clock is the system's with an offset that all services share; alive_at and promised_at let a restart go on from where it was left, never behind it.
alter table movable_clock
  add column offset_micros bigint not null default 0,
  add column alive_at datetime(6) null;
