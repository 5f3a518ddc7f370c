-- Groups of leads that a condition describes. Who is in one is never written down: it is asked when it matters.
create table segment (
  id uuid primary key,
  name text not null check (name <> ''),
  condition jsonb not null,
  made_at timestamptz not null default now(),
  updated_at timestamptz not null default now(),
  -- Taken away; it can come back for a while.
  removed_at timestamptz
);
create unique index segment_name on segment (lower(name)) where removed_at is null;

-- Which visits were a machine's? They count for nobody.
create index visit_robot on visit (id) where robot;
-- Who did one of the rarer things, lately or ever? Pages and how they were read are most of the trail, and not in it.
create index trail_event_rare on trail_event (kind, at) where kind not in ('page', 'read');
-- Which of the entries of a point are whose?
create index entry_who on entry (lead_id, point_id) where state = 'complete';

alter table list add column removed_at timestamptz;
drop index list_name;
create unique index list_name on list (lower(name)) where removed_at is null;
