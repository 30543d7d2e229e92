-- Keys whose time is over are deleted, and found for that by their end.
alter table decision_key add key decision_key_end (expires_at);
