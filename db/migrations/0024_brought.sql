-- The line that an entry makes in the timeline is the entry: what it changed and brought is kept with it, and who reads a
-- timeline finds it here. Lines from before stand where they were; of those entries this is null, and of those set aside.
alter table entry add column brought jsonb;

create or replace view happened as
  select lead_id, at, kind, actor_id, payload - 'also' as payload from timeline
  union all
  select t.lead_id, t.at, a.key, t.actor_id, a.value from timeline t cross join lateral jsonb_each(t.payload -> 'also') a where t.kind = 'entry'
  union all
  select lead_id, at, 'entry', null, brought - 'also' from entry where brought is not null
  union all
  select e.lead_id, e.at, a.key, null, a.value from entry e cross join lateral jsonb_each(e.brought -> 'also') a;
