-- Who was written by hand, or comes from one of several sources, is listed and counted without looking at everybody.
set @@system_versioning_alter_history = keep;
alter table person
  add key person_source (source);
