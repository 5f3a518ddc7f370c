-- Who showed that an address is theirs, and who wants no more mail.
alter table lead
  add column confirmed_at timestamptz,
  add column left_at timestamptz;

-- Mails to visitors: what follows an entry, at once or some days later.
create table letter (
  id uuid primary key,
  lead_id uuid not null references lead,
  entry_id uuid not null references entry,
  kind text not null check (kind in ('confirm', 'letter')),
  subject text not null,
  body text not null,
  days int not null default 0 check (days >= 0),
  -- When it goes out; null while it waits for the address to be confirmed.
  due_at timestamptz,
  sent_at timestamptz,
  -- Tries that failed so far.
  tries int not null default 0,
  -- Why it will never go out.
  dropped text
);
-- Which letters are due?
create index letter_due on letter (due_at) where sent_at is null and dropped is null;
-- How many did this lead get lately?
create index letter_sent on letter (lead_id, sent_at) where sent_at is not null;
-- Which of this lead's letters wait?
create index letter_lead on letter (lead_id) where sent_at is null and dropped is null;
