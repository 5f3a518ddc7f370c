-- What came of an entry in the same moment (that somebody is new, their label, their owner, their next step) stands in the
-- entry's own line of the timeline now, under `also`. Lines from before stand as they were. Who counts what happened asks here.
create view happened as
  select lead_id, at, kind, actor_id, payload - 'also' as payload from timeline
  union all
  select t.lead_id, t.at, a.key, t.actor_id, a.value from timeline t cross join lateral jsonb_each(t.payload -> 'also') a where t.kind = 'entry';
