-- Quizzes that somebody finished without saying who they are. Nothing in it is personal: only what was chosen from what was offered,
-- and numbers; no words, no browser, no network.
create table nameless (
  id uuid primary key,
  point_id uuid not null references point,
  edition_id uuid not null references edition,
  -- The landing page that it came through.
  landing_id uuid references point,
  at timestamptz not null,
  language text,
  via text not null,
  page text,
  took_ms int,
  answers jsonb not null,
  result jsonb not null,
  -- The same press of a button, however often it arrives.
  idempotency_key text,
  -- Who it was said it after all: it is an entry now, and this goes as soon as it is counted no more.
  entry_id uuid,
  counted boolean not null default false,
  unique (point_id, idempotency_key)
);
-- What is not counted yet, and what is an entry by now and goes?
create index nameless_to_count on nameless (point_id, id) where not counted or entry_id is not null;
