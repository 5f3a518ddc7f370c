-- Two leads that a member found to be one person. The one that went is kept as it was, to come back whole; its events stay its own.
create table lead_merge (
  id uuid primary key,
  gone uuid not null,
  kept uuid not null,
  -- Whoever stands for the one that went by now: the one that was kept may have gone into another since.
  root uuid not null references lead,
  at timestamptz not null,
  by_id uuid not null references member,
  -- The row of the one that went.
  row jsonb not null,
  -- What hung on it, by table: what was handed over, and what stood in the way of the other's and is kept here.
  moved jsonb not null,
  -- The one that was kept, before and behind it, and the lines that it got by it.
  states jsonb not null
);
-- Who stands for this lead?
create unique index lead_merge_gone on lead_merge (gone);
-- Who went into this lead?
create index lead_merge_root on lead_merge (root);
create index lead_merge_kept on lead_merge (kept);

-- A key that a lead has by another who went into it; under the rule "email" an address of theirs that is not the one in use.
alter table lead_key add column merge_id uuid references lead_merge on delete cascade;

-- What is compared to find people who are here twice; kept up behind the events, an entry pays nothing for it.
create table lead_likeness (
  lead_id uuid primary key references lead on delete cascade,
  -- An address as it is compared: what stands before and behind the @, and the mailbox that it most likely ends in.
  local text,
  domain text,
  mailbox text,
  -- Telephone numbers in one writing; names and firm without case, accents and what firms call themselves.
  phones text[] not null default '{}',
  name text,
  firm text
);
-- Who has the same number?
create index lead_likeness_phones on lead_likeness using gin (phones);
-- Who is called the same?
create index lead_likeness_name on lead_likeness (name) where name is not null;
-- Whose address ends in the same mailbox?
create index lead_likeness_mailbox on lead_likeness (mailbox) where mailbox is not null;
-- Who is called the same before the @, or nearly the same? Whole addresses of one large provider are all alike.
create index lead_likeness_local on lead_likeness (local) where local is not null;
create index lead_likeness_like on lead_likeness using gin (local gin_trgm_ops);

-- Two who may be one, the smaller id first, and by what. Who was found to be two stays so.
create table likely_pair (
  a uuid not null references lead on delete cascade,
  b uuid not null references lead on delete cascade,
  check (a < b),
  primary key (a, b),
  found_at timestamptz not null,
  strength real not null,
  -- By what they are alike (core/identity/likeness).
  reasons jsonb not null,
  apart_at timestamptz,
  apart_by uuid references member
);
create index likely_pair_b on likely_pair (b);
-- Which pairs wait for somebody to judge, the likeliest first?
create index likely_pair_waits on likely_pair (strength desc, found_at) where apart_at is null;

-- Who judged an entry, and why it is not taken in; when one is to be let in, so that it can be undone until then.
alter table entry
  -- The lead with whose events it is told, where that is another one: both were one when it came.
  add column told_with uuid,
  add column judged_by uuid,
  add column judged_at timestamptz,
  add column judged_why text,
  add column let_in_at timestamptz;
-- Which are to be let in by now?
create index entry_let_in on entry (let_in_at) where let_in_at is not null;
