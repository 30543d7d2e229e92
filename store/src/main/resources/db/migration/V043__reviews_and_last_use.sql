-- A campaign that an offer asks for is called by the offer's key with a word before it.
alter table campaign_round modify column campaign_key varchar(80) not null;

alter table campaign_move modify column campaign_key varchar(80) not null;

-- When an application says that an account was last used, if it does.
alter table found_account add column last_used datetime(6) null;
