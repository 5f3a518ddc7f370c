-- Who works here.
create table member (
  id uuid primary key,
  email text not null,
  email_key text not null unique,
  name text not null,
  role text not null check (role in ('admin', 'marketer', 'sales')),
  password_hash text not null,
  active boolean not null default true,
  created_at timestamptz not null default now()
);

create table sign_in_failure (
  email_key text not null,
  address text not null,
  at timestamptz not null default now()
);
-- How often has signing in failed lately, for this person or from this address?
create index sign_in_failure_email on sign_in_failure (email_key, at);
create index sign_in_failure_address on sign_in_failure (address, at);

create table api_key (
  id uuid primary key,
  name text not null,
  -- SHA-256 of the key: it has 256 random bits, so nothing slower is needed.
  hash bytea not null unique,
  hint text not null,
  created_by uuid references member,
  created_at timestamptz not null default now(),
  last_used_at timestamptz,
  revoked_at timestamptz
);

-- The firm's own words.
create table house (
  one boolean primary key default true check (one),
  name text not null,
  working_days int[] not null default '{1,2,3,4,5}',
  works_from int not null default 8 check (works_from between 0 and 23),
  works_until int not null default 18 check (works_until between 1 and 24),
  zone text not null default 'Europe/Paris',
  check (works_from < works_until)
);

create table property (
  key text primary key check (key ~ '^[a-z][a-z0-9_]*$'),
  label text not null,
  kind text not null check (kind in ('short_text', 'email', 'one_of', 'long_text')),
  rank int not null
);

create table label (
  key text primary key,
  name text not null,
  rank int not null unique,
  -- From this label on a lead counts as qualified.
  qualified boolean not null,
  -- Working minutes within which somebody with this label is to be answered.
  response_target int not null check (response_target > 0)
);

create table status (
  key text primary key,
  name text not null,
  rank int not null unique,
  stage text not null check (stage in ('first', 'open', 'won', 'lost', 'parked'))
);
create unique index status_first on status (stage) where stage = 'first';

-- What is captured with.
create table point (
  id uuid primary key,
  key text not null unique,
  slug text not null unique check (slug ~ '^[a-z0-9]+(-[a-z0-9]+)*$'),
  name text not null,
  kind text not null check (kind in ('form')),
  working_copy jsonb not null,
  -- Counts the changes of the working copy, so that two who edit do not overwrite each other.
  revision int not null default 1,
  live_edition uuid,
  archived_at timestamptz,
  created_at timestamptz not null default now(),
  updated_at timestamptz not null default now()
);

create table edition (
  id uuid primary key,
  point_id uuid not null references point,
  number int not null,
  definition jsonb not null,
  -- The revision of the working copy that it was made from.
  revision int not null,
  made_by uuid references member,
  made_at timestamptz not null,
  unique (point_id, number)
);
alter table point add foreign key (live_edition) references edition;

-- How leads are scored and routed: editions, of which the newest is live.
create table scorecard_edition (
  number int generated always as identity primary key,
  definition jsonb not null,
  made_by uuid references member,
  made_at timestamptz not null default now()
);
create table routing_edition (
  number int generated always as identity primary key,
  definition jsonb not null,
  made_by uuid references member,
  made_at timestamptz not null default now()
);
create table turn (
  lane text not null,
  member_id uuid not null references member,
  given bigint not null default 0,
  last_at timestamptz,
  primary key (lane, member_id)
);

-- Who is known.
create table lead (
  id uuid primary key,
  email text not null,
  -- The same-person key: one person is one row, whatever the writing.
  email_key text not null unique,
  first_name text,
  last_name text,
  company text,
  properties jsonb not null default '{}',
  tags text[] not null default '{}',
  label text references label,
  label_floor text,
  -- Score lines with their full points and times; what is left of them is worked out when read.
  reasons jsonb not null default '[]',
  -- The score when it was last worked out; good enough to sort and filter by.
  fit int not null default 0,
  interest int not null default 0,
  scored_at timestamptz not null,
  owner_id uuid references member,
  owned_at timestamptz,
  status text not null references status,
  status_at timestamptz not null,
  next_step text,
  next_step_at timestamptz,
  -- Since when somebody here owes an answer; null when nobody does.
  waiting_since timestamptz,
  created_at timestamptz not null,
  updated_at timestamptz not null,
  check ((next_step is null) = (next_step_at is null))
);
-- Who waits for this owner?
create index lead_waiting on lead (owner_id, waiting_since) where waiting_since is not null;
-- The newest first; and the next page of the open API.
create index lead_created on lead (created_at desc, id desc);
-- The leads of an owner, newest change first; and all of them, through which a status or a label is found soon enough.
create index lead_owner on lead (owner_id, updated_at desc);
create index lead_updated on lead (updated_at desc, id desc);
-- Which next steps are due for this owner?
create index lead_next_step on lead (owner_id, next_step_at) where next_step_at is not null;
-- Which interest was worked out longest ago? It has faded most since.
create index lead_scored on lead (scored_at) where interest <> 0;

create extension if not exists pg_trgm;
-- Who has this in their name, firm or address?
create index lead_search on lead using gin (
  (coalesce(first_name, '') || ' ' || coalesce(last_name, '') || ' ' || coalesce(company, '') || ' ' || email) gin_trgm_ops
);

create table entry (
  id uuid primary key,
  point_id uuid not null references point,
  edition_id uuid not null references edition,
  lead_id uuid not null references lead,
  at timestamptz not null,
  state text not null check (state in ('unfinished', 'complete', 'held', 'refused')),
  -- Exactly as typed, by question key.
  answers jsonb not null,
  page text,
  referrer text,
  utm jsonb not null default '{}',
  visitor_id uuid,
  idempotency_key text,
  -- SHA-256 of what was sent: the same key with other answers is a mistake, not a repetition.
  fingerprint bytea not null
);
-- Has this very entry come in before? A key counts once.
create unique index entry_idempotency on entry (point_id, idempotency_key) where idempotency_key is not null;
-- The entries of a lead; the entries of a point by day.
create index entry_lead on entry (lead_id, at desc);
create index entry_point on entry (point_id, at desc);
-- The entries of the last days. They come in the order of time, which a block range index knows at hardly any cost.
create index entry_at on entry using brin (at) with (pages_per_range = 16, autosummarize = on);

-- What visitors did who agreed to it.
create table trail_event (
  id uuid primary key,
  at timestamptz not null,
  visitor_id uuid not null,
  visit_id uuid not null,
  kind text not null check (kind in ('page_view')),
  lead_id uuid references lead,
  page text not null,
  path text not null,
  title text,
  referrer text,
  utm jsonb not null default '{}'
);
-- What did this browser do before it was known? What did this lead do?
create index trail_event_visitor on trail_event (visitor_id, at desc);
create index trail_event_lead on trail_event (lead_id, at desc) where lead_id is not null;
create index trail_event_at on trail_event (at desc);

-- Which lead a browser belongs to.
create table visitor (
  id uuid primary key,
  lead_id uuid not null references lead,
  since timestamptz not null
);
create index visitor_lead on visitor (lead_id);

-- A stream that is only added to, in transactions that hold the lead: no foreign key is checked
-- for each of its many lines.
create table timeline (
  id uuid primary key,
  lead_id uuid not null,
  at timestamptz not null,
  kind text not null,
  actor_id uuid,
  payload jsonb not null
);
-- What happened to this lead, newest first?
create index timeline_lead on timeline (lead_id, at desc, id desc);
-- How many passed from one stage to the next lately?
create index timeline_at on timeline using brin (at) with (pages_per_range = 16, autosummarize = on);

create table notice (
  id uuid primary key,
  member_id uuid not null references member,
  lead_id uuid not null,
  at timestamptz not null,
  subject text not null,
  -- The opening sentence and the answers, for the mail.
  body jsonb not null,
  read_at timestamptz,
  mailed_at timestamptz
);
-- What has this member not seen yet?
create index notice_unread on notice (member_id, at desc) where read_at is null;
create index notice_member on notice (member_id, at desc);

-- The worker says here that it lives.
create table pulse (
  name text primary key,
  at timestamptz not null
);
