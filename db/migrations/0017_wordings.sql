-- Which visitors saw which wording of a point that is tried, and whether they answered. Each counts once in a trial.
create table trial_visitor (
  point_id uuid not null references point,
  trial text not null,
  wording text not null,
  visitor_id uuid not null,
  seen_at timestamptz not null,
  answered_at timestamptz,
  -- Whose browser it was is forgotten: the id is a random one now.
  unnamed boolean not null default false,
  primary key (point_id, trial, visitor_id)
);
-- In which trials is this browser?
create index trial_visitor_visitor on trial_visitor (visitor_id);
