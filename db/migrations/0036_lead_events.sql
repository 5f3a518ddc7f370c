-- One row a cause: what happened to a lead, what it changed, and what the score was then. A stream that is only added to, in
-- transactions that hold the lead: no foreign key is checked for each of its many rows.
create table lead_event (
  lead_id uuid not null,
  -- The lead's first event has 1, each that follows one more, under the lock of its row.
  version int not null,
  at timestamptz not null,
  cause text not null,
  actor_id uuid,
  -- By the names of what happened (core/events): at most one of each.
  changes jsonb not null,
  -- What fit, interest (not rounded) and scorecard were; of events from before this table what is known.
  fit int,
  interest float8,
  card int,
  -- The transaction that wrote it: whoever follows the stream reads what lies below the oldest that still runs.
  xid xid8 not null default pg_current_xact_id(),
  seq bigint not null generated always as identity,
  redacted_at timestamptz,
  -- What happened to this lead?
  primary key (lead_id, version)
);
-- What came behind this place of the stream?
create index lead_event_stream on lead_event (xid, seq);
-- How many passed from one stage to the next lately?
create index lead_event_at on lead_event using brin (at) with (pages_per_range = 16, autosummarize = on);

-- How many events a lead has had; null until those from before this table are moved.
alter table lead add column version int;
-- Whose are still to be moved?
create index lead_unversioned on lead (id) where version is null;

-- Who of us was mailed about this lead?
create index notice_mailed on notice (lead_id, mailed_at) where mailed_at is not null;

-- What an entry said at first, in words, where it says something else since.
alter table entry add column first_answers jsonb;
update entry set first_answers = brought -> 'answers' where brought ? 'answers';
update entry e set first_answers = t.payload -> 'answers' from timeline t
  where t.kind = 'entry' and t.payload ? 'answers' and e.id = (t.payload ->> 'entry')::uuid and e.first_answers is null;

-- How far each consumer of the stream came. Whoever needs a lead's events in their order takes some before it gets to them.
create table consumer (
  name text primary key,
  xid xid8 not null default '0',
  seq bigint not null default 0,
  at timestamptz not null default now()
);
create table consumer_ahead (
  consumer text not null references consumer on delete cascade,
  lead_id uuid not null,
  version int not null,
  primary key (consumer, lead_id, version)
);
