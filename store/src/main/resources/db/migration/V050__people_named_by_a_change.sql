-- A change of a team concerns its members by name, whatever they hold.
alter table due_mark
  add column workers longtext not null default '[]' after targets;
