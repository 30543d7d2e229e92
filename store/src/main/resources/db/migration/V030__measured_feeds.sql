-- What the brakes measured of a feed, so that other limits can be tried against those of the past.
alter table feed
  add column measured text not null default '';
