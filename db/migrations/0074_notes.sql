-- Short texts that chats answer from, and what could not be answered.
create table note (
  id uuid primary key,
  title text not null check (length(title) between 1 and 120),
  -- Markdown.
  body text not null check (length(body) between 1 and 4000),
  -- Where it was brought in from: a page of the site, or the name of a file.
  source text,
  made_at timestamptz not null,
  made_by uuid references member,
  changed_at timestamptz not null,
  removed_at timestamptz
);
-- Two notes of one name would not be told apart in an answer.
create unique index note_title on note (lower(title)) where removed_at is null;

-- What people asked: to try the notes on (`tried`), and what no note answered.
create table note_question (
  id uuid primary key,
  text text not null check (length(text) between 1 and 2000),
  -- The right note; null: none has the answer.
  note_id uuid references note on delete set null,
  -- Kept out when the setting is chosen, so that it can be judged by it.
  kept_out boolean not null default false,
  made_at timestamptz not null
);
create table note_unanswered (
  id uuid primary key,
  text text not null check (length(text) between 1 and 2000),
  conversation_id uuid references conversation on delete cascade,
  at timestamptz not null,
  -- Dealt with: a note answers it now, or none is wanted.
  done_at timestamptz
);
-- What is still to be answered, the latest first?
create index note_unanswered_open on note_unanswered (at desc) where done_at is null;

-- From which score on a note answers, and from which it is asked whether it was meant.
create table note_setting (
  one boolean primary key default true check (one),
  answers_from real not null,
  asks_from real not null,
  changed_at timestamptz not null,
  check (asks_from > 0 and asks_from <= answers_from and answers_from <= 1)
);
insert into note_setting (answers_from, asks_from, changed_at) values (0.55, 0.3, now());
