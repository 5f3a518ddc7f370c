-- Views of the table of leads that are kept: somebody's own, or everybody's (no member).
create table saved_view (
  id uuid primary key,
  member_id uuid references member on delete cascade,
  name text not null check (length(name) between 1 and 60),
  -- The filters and the order, as the address of the table says them, and its columns.
  query jsonb not null,
  columns text[] not null default '{}',
  made_by uuid references member on delete set null,
  made_at timestamptz not null default now()
);
-- Nobody has two views of one name, nor has the team.
create unique index saved_view_name on saved_view (coalesce(member_id, '00000000-0000-0000-0000-000000000000'), lower(name));

-- Texts that the team begins mails with. What is known of who gets one stands in as a placeholder.
create table ready_text (
  id uuid primary key,
  name text not null check (length(name) between 1 and 60),
  subject text not null check (length(subject) <= 200),
  body text not null check (length(body) between 1 and 20000),
  made_by uuid references member on delete set null,
  changed_at timestamptz not null default date_trunc('milliseconds', now())
);
create unique index ready_text_name on ready_text (lower(name));
insert into ready_text (id, name, subject, body) values
  (gen_random_uuid(), 'Offer a call', 'When may I call you?', E'thank you for writing to us. When would a call suit you best? Ten minutes are enough.'),
  (gen_random_uuid(), 'Not reached', 'I tried to call you', E'I tried to reach you and did not want to give up so soon. When may I try again?');

-- Who wrote, said or was written this? Only of what holds words.
create index lead_event_said on lead_event using gin ((coalesce(changes->'note'->>'text', changes->'note_changed'->>'text', changes->'call'->>'text',
  (changes->'wrote'->>'subject') || ' ' || (changes->'wrote'->>'text'), (changes->'replied'->>'subject') || ' ' || (changes->'replied'->>'text'))) gin_trgm_ops)
  where changes ?| array['note', 'note_changed', 'call', 'wrote', 'replied'];
