-- Leads of the past that are sent through a plan before it goes live. There is one run at a time.
create table plan_run (
  only_one boolean primary key default true check (only_one),
  id uuid not null,
  made_by uuid references member,
  at timestamptz not null,
  -- The working copy that it is about, and the edition that it is compared with.
  revision int not null,
  definition jsonb not null,
  edition int not null,
  days int not null,
  speed float8 not null,
  state text not null check (state in ('waiting', 'working', 'done', 'stopped', 'failed')),
  total int,
  done int not null default 0,
  beat_at timestamptz,
  result jsonb,
  problem text
);
-- Who got whom, by the live plan (0) and by the working copy (1).
create unlogged table plan_run_lead (
  which smallint not null,
  lead_id uuid not null,
  member_id uuid,
  lane text,
  came timestamptz not null,
  at timestamptz not null,
  is_over boolean not null,
  kept float8,
  primary key (which, lead_id)
);
