-- Something that is done to many leads at once, piece by piece, and can be taken back.
create table bulk_act (
  id uuid primary key,
  by_member uuid not null references member,
  at timestamptz not null default now(),
  act jsonb not null,
  -- 'undoing' and 'undone': it is taken back, or was.
  state text not null default 'working' check (state in ('working', 'done', 'stopped', 'undoing', 'undone'))
);
create table bulk_act_lead (
  bulk_id uuid not null references bulk_act on delete cascade,
  lead_id uuid not null,
  -- The event that it made; null: not yet. Why it made none.
  version int,
  skipped text,
  undone boolean not null default false,
  primary key (bulk_id, lead_id)
);
-- What is still to be done?
create index bulk_act_waiting on bulk_act (at) where state in ('working', 'undoing');
