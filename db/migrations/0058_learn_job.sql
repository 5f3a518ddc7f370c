-- Scorecards that are learned from what became of people, for a member or for a program.
create table learn_job (
  id uuid primary key,
  made_at timestamptz not null default now(),
  -- The member who asked; null: a program did.
  made_by uuid references member,
  -- What it is learned from, until it is done: rows with outcomes, or whose leads; and how.
  input jsonb,
  options jsonb not null,
  state text not null check (state in ('waiting', 'working', 'done', 'failed')),
  progress real not null default 0,
  beat_at timestamptz,
  result jsonb,
  problem text,
  ended_at timestamptz
);
-- Which waits longest?
create index learn_job_waiting on learn_job (made_at) where state in ('waiting', 'working');

