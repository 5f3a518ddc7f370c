create extension if not exists btree_gist;

-- Meetings that visitors chose after an entry.
create table meeting (
  id uuid primary key,
  entry_id uuid not null unique references entry,
  lead_id uuid not null references lead,
  member_id uuid not null references member,
  starts_at timestamptz not null,
  ends_at timestamptz not null check (ends_at > starts_at),
  minutes int not null check (minutes between 10 and 240),
  -- Counts how often it was moved (iCalendar's SEQUENCE).
  moved int not null default 0,
  made_at timestamptz not null,
  -- Nobody is at two meetings at once, whoever chooses at the same moment.
  exclude using gist (member_id with =, tstzrange(starts_at, ends_at) with &&)
);
-- When is this member taken?
create index meeting_member on meeting (member_id, starts_at);

-- Mails that confirm a meeting carry its calendar file.
alter table letter drop constraint letter_kind_check;
alter table letter add check (kind in ('confirm', 'letter', 'meeting'));

-- When a visitor corrected an entry last.
alter table entry add column corrected_at timestamptz;
