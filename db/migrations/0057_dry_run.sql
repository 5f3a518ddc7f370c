-- What another scorecard would make of the leads, worked out before it is made live. There is one at a time; a new one takes the place of the last.
create table dry_run (
  only_one boolean primary key default true check (only_one),
  id uuid not null,
  made_by uuid references member,
  -- The moment that all of it is worked out for.
  at timestamptz not null,
  -- The revision of the working copy, the copy itself, and the edition that it is compared with.
  revision int not null,
  definition jsonb not null,
  card int not null,
  -- Whom it is about: {} all, {"segment": id}, or {"days": n} those who came in the last n days.
  who jsonb not null,
  state text not null check (state in ('waiting', 'working', 'done', 'stopped', 'failed')),
  total int,
  done int not null default 0,
  -- Whoever works on it says so again and again; who falls silent is taken over from.
  beat_at timestamptz,
  result jsonb,
  problem text
);

-- What it made of each lead. Labels by their places in the result's list, 0 for none.
create table dry_run_lead (
  lead_id uuid primary key,
  was smallint not null,
  would smallint not null,
  fit_was int not null,
  interest_was int not null,
  fit int not null,
  interest int not null
);
-- Who goes from this label to that one?
create index dry_run_lead_flow on dry_run_lead (was, would);
