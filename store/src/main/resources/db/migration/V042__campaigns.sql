-- One playing of a campaign. What of its definition binds while it goes on is kept with it.
create table campaign_round (
  id bigint not null primary key,
  campaign_key varchar(64) not null,
  name varchar(200) not null,
  -- what made it begin: hand:17, rhythm:2027-04-01, mover:5
  occasion varchar(80) not null,
  -- whom alone it is about
  person_id bigint null,
  state varchar(12) not null,
  -- the moment at which its items are fixed
  as_of datetime(6) not null,
  launched_by varchar(64) not null,
  work bigint null,
  due_at datetime(6) not null,
  closing varchar(12) not null,
  answer_days int not null,
  self_review boolean not null,
  second varchar(80) not null default '',
  nudged int not null default 0,
  escalated_at datetime(6) null,
  extended int not null default 0,
  -- what was undecided when it was over went to owners, who have until due_at
  with_owners boolean not null default false,
  items int not null default 0,
  people int not null default 0,
  -- the round of the same campaign before
  before_id bigint null,
  ended_at datetime(6) null,
  end_reason varchar(1000) not null default '',
  -- one that goes on for a campaign, or for a campaign and a person
  open_key varchar(100) null,
  unique key round_occasion (campaign_key, occasion),
  unique key round_open (open_key),
  key round_state (state, due_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Who judges in a round: a person, or whoever is in a team or has a duty.
create table campaign_reviewer (
  id bigint not null primary key auto_increment,
  round_id bigint not null,
  level tinyint not null,
  -- person, team, application-owner, steward, campaign-lead
  kind varchar(20) not null,
  target varchar(130) not null,
  -- who is meant, and who judges: the same, or who stands in for them
  person_id bigint null,
  acting_id bigint null,
  signed_off_at datetime(6) null,
  signed_off_by varchar(64) not null default '',
  -- of what was signed off
  digest binary(32) null,
  unique key reviewer_once (round_id, level, kind, target),
  key reviewer_acting (acting_id, round_id),
  key reviewer_kind (kind, target)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What of a campaign's scope is in a round: a bit for each case (core's HoldingScope).
create table campaign_scope (
  round_id bigint not null,
  judged varchar(12) not null,
  target_key varchar(130) not null,
  application varchar(64) not null,
  risk tinyint not null,
  mask bigint not null,
  primary key (round_id, judged, target_key)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- People whose holdings are in a round, where not everybody's are.
create table campaign_person (
  round_id bigint not null,
  person_id bigint not null,
  primary key (round_id, person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Whose items whom goes to, by a manager's key, an application, an entitlement or a package.
create table campaign_assign (
  round_id bigint not null,
  by_key varchar(130) not null,
  reviewer_id bigint not null,
  -- who would judge themselves there, and who judges them instead
  person_id bigint null,
  up_id bigint not null,
  primary key (round_id, by_key)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- How many people with the same job have what.
create table campaign_peer (
  round_id bigint not null,
  group_key binary(16) not null,
  target_key varchar(130) not null,
  people int not null,
  primary key (round_id, group_key, target_key)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table campaign_item (
  id bigint not null primary key auto_increment,
  round_id bigint not null,
  reviewer_id bigint not null,
  person_id bigint null,
  -- what a reviewer's list is sorted by
  sort_name varchar(100) not null default '',
  account_id bigint null,
  -- entitlement, package, account, stray, service
  kind varchar(12) not null,
  target_key varchar(130) not null,
  application varchar(64) not null,
  -- how it was when the round began
  account varchar(210) not null default '',
  bases tinyint not null default 0,
  given_by varchar(130) not null default '',
  since datetime(6) null,
  last_used datetime(6) null,
  idle boolean not null default false,
  conflict boolean not null default false,
  risk tinyint not null default 1,
  peers int null,
  peers_holding int null,
  before_was varchar(8) not null default '',
  before_by varchar(64) not null default '',
  suggestion tinyint not null default 1,
  -- what became of it
  state varchar(12) not null default 'undecided',
  judgement varchar(8) not null default '',
  decided_by varchar(64) not null default '',
  decided_at datetime(6) null,
  reason varchar(1000) not null default '',
  opened boolean not null default false,
  level tinyint not null default 1,
  first_was varchar(8) not null default '',
  first_by varchar(64) not null default '',
  acts_at datetime(6) null,
  answer varchar(1000) not null default '',
  settled_at datetime(6) null,
  over_at datetime(6) null,
  handed_to varchar(64) not null default '',
  note varchar(1000) not null default '',
  told boolean not null default false,
  revision int not null default 0,
  key item_reviewer (reviewer_id, sort_name, id),
  key item_target (reviewer_id, target_key, id),
  key item_round (round_id, state),
  key item_person (person_id, target_key, round_id),
  key item_state (state, acts_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What was said of items by whom, one after the other.
create table campaign_remark (
  id bigint not null primary key auto_increment,
  item_id bigint not null,
  at datetime(6) not null,
  by_login varchar(64) not null,
  -- keep, revoke, undo, pass-on, comment, answer, hand, sign-off, ended, closed
  what varchar(12) not null,
  text varchar(1000) not null default '',
  key remark_item (item_id, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Up to which move a campaign has begun rounds for people who moved.
create table campaign_move (
  campaign_key varchar(64) not null primary key,
  event_id bigint not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
