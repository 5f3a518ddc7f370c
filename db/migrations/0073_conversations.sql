-- Chats: points that ask one thing at a time, and what was said in them.
alter table point drop constraint point_kind_check,
  add constraint point_kind_check check (kind in ('form', 'quiz', 'chat', 'page'));

create table conversation (
  id uuid primary key,
  point_id uuid not null references point on delete cascade,
  -- It goes on in the edition it began.
  edition_id uuid not null references edition on delete cascade,
  -- What only the visitor's browser holds; who has it may go on with the conversation.
  secret bytea not null,
  -- The browser, as it is kept of one that agreed.
  visitor_id uuid,
  lead_id uuid references lead on delete cascade,
  entry_id uuid references entry on delete set null,
  -- With whom of us it is.
  member_id uuid references member,
  -- flow: with the flow; waiting: somebody is to answer; talking: with one of us; ended.
  state text not null check (state in ('flow', 'waiting', 'talking', 'ended')),
  began_at timestamptz not null,
  -- What opened it: the tab, its greeting, the site's own button, one of us who spoke first.
  began_by text not null check (began_by in ('tab', 'greeting', 'button', 'page', 'member')),
  -- Where it stands in its flow (core/chat/run.ts).
  place jsonb not null,
  page text,
  language text,
  -- The number of its last line.
  last int not null default 0,
  last_at timestamptz not null,
  -- Up to which line each side has read.
  seen_by_visitor int not null default 0,
  seen_by_us int not null default 0,
  -- When it was first handed to a person, by when they were promised an answer, and when the first came.
  asked_at timestamptz,
  due_at timestamptz,
  answered_at timestamptz,
  answered_by uuid references member,
  ended_at timestamptz,
  rating smallint check (rating between 1 and 5),
  rating_text text,
  check ((state = 'ended') = (ended_at is not null)),
  check ((state = 'talking') <= (member_id is not null)),
  check (rating is null or ended_at is not null)
);
-- Which conversations are under way, in their heaps?
create index conversation_open on conversation (state, last_at) where state <> 'ended';
-- Which came last?
create index conversation_last on conversation (last_at desc, id);
-- Which has this lead had?
create index conversation_lead on conversation (lead_id, began_at) where lead_id is not null;
-- Which had this browser, to erase with what it agreed to?
create index conversation_visitor on conversation (visitor_id) where visitor_id is not null;
-- How did this point's conversations go?
create index conversation_point on conversation (point_id, began_at);

create table message (
  conversation_id uuid not null references conversation on delete cascade,
  -- The order is ours: lines are numbered as they arrive.
  n int not null check (n > 0),
  -- Whoever sends gives it its id, so that what is sent again stands once.
  id uuid not null,
  at timestamptz not null,
  by text not null check (by in ('visitor', 'flow', 'member', 'house')),
  member_id uuid references member,
  text text not null check (length(text) <= 4000),
  -- What there is beside the text: choices, a question, what happened (core/chat/lines.ts).
  more jsonb,
  -- Among colleagues only.
  is_note boolean not null default false,
  primary key (conversation_id, n),
  check ((by = 'member') <= (member_id is not null)),
  check (not is_note or by = 'member')
);
-- Was this sent before?
create unique index message_once on message (conversation_id, id);

-- Conversations that one of us began, until the browser they are for has fetched its word.
create table spoken_first (
  conversation_id uuid primary key references conversation on delete cascade,
  visitor_id uuid not null,
  secret text not null,
  at timestamptz not null
);
