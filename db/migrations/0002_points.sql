-- More that can be known, and how freely people tell it.
alter table property drop constraint property_kind_check;
alter table property
  add check (kind in ('short_text', 'long_text', 'email', 'phone', 'number', 'money', 'date', 'one_of', 'some_of', 'yes_no', 'url', 'country')),
  add column sensitivity text not null default 'ordinary' check (sensitivity in ('ordinary', 'private', 'sensitive')),
  add column choices jsonb not null default '[]',
  -- No new question fills it; what is known stays.
  add column retired_at timestamptz;

-- Whose national writing of phone numbers is understood, and whose money amounts are in.
alter table house
  add column country text not null default 'FR' check (country ~ '^[A-Z]{2}$'),
  add column currency text not null default 'EUR' check (currency ~ '^[A-Z]{3}$');

-- Mails that people can agree to.
create table mail_topic (
  key text primary key check (key ~ '^[a-z][a-z0-9_]*$'),
  name text not null,
  rank int not null
);

-- An entry that is held or refused belongs to nobody yet.
alter table entry alter column lead_id drop not null;
alter table entry
  add check (lead_id is not null or state in ('held', 'refused')),
  -- Why it is held or refused, as a word that the code knows.
  add column reason text,
  -- Which copy it came through.
  add column via text not null default 'script' check (via in ('script', 'page', 'plain', 'frame', 'program', 'archive')),
  -- From the first sight of the form to sending it, as the browser says.
  add column took_ms int check (took_ms >= 0),
  add check ((reason is null) = (state = 'complete' or state = 'unfinished'));
-- What waits for a person, and what was refused lately, newest first?
create index entry_not_taken on entry (at desc) where state in ('held', 'refused');

-- What was agreed to: the exact words, when, and from where.
create table consent (
  id uuid primary key,
  lead_id uuid not null references lead,
  entry_id uuid not null references entry,
  question text not null,
  edition_id uuid not null references edition,
  words text not null,
  -- The mails it allows.
  allows text[] not null,
  at timestamptz not null,
  page text
);
-- What did this lead agree to, newest first?
create index consent_lead on consent (lead_id, at desc);
