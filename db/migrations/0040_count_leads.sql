-- in pieces
-- What figures have to know of the leads there are, out of their events: it stands on the lead, and with its last event.
with picked as materialized (select * from lead where counted is null order by id limit 300),
sent as (
  select v.lead_id, v.version, v.at, p.key as point, n.landing_id as landing, coalesce(n.utm ->> 'source', substring(n.referrer from '^https?://(?:www\.)?([^/:?#]+)'), 'direct') as source
  from lead_event v join picked l on l.id = v.lead_id join entry n on n.id = (v.changes -> 'entry' ->> 'entry')::uuid join point p on p.id = n.point_id
  where v.changes ? 'entry'
),
known as (
  select l.id, l.version, greatest(l.version, 1) as last_version, l.updated_at,
    jsonb_strip_nulls(jsonb_build_object(
      'first', (select jsonb_build_array(s.point, s.source) from sent s where s.lead_id = l.id order by s.version limit 1),
      'qualified', nullif(coalesce(bool_or(q.qualified), false), false),
      'last', nullif(jsonb_strip_nulls(jsonb_build_object(
        'entry', floor(extract(epoch from max(v.at) filter (where v.changes ? 'entry')) * 1000),
        'owner', floor(extract(epoch from max(v.at) filter (where v.changes ? 'owner')) * 1000),
        'worked', floor(extract(epoch from max(v.at) filter (where f.stage = 'first')) * 1000),
        'closed', floor(extract(epoch from max(v.at) filter (where t.stage in ('won', 'lost'))) * 1000),
        'won', floor(extract(epoch from max(v.at) filter (where t.stage = 'won')) * 1000))), '{}')
    )) as counted,
    jsonb_strip_nulls(jsonb_build_object('label', l.label, 'owner', l.owner_id, 'status', l.status, 'waiting', nullif(l.waiting_since is not null, false),
      'submitted', nullif(l.submitted_at is not null, false), 'created', floor(extract(epoch from l.created_at) * 1000))) as stands
  from picked l left join lead_event v on v.lead_id = l.id left join label q on q.key = v.changes -> 'label' ->> 'to'
    left join status f on f.key = v.changes -> 'status' ->> 'from' left join status t on t.key = v.changes -> 'status' ->> 'to'
  group by l.id, l.version, l.updated_at, l.label, l.owner_id, l.status, l.waiting_since, l.submitted_at, l.created_at
),
last_events as (
  update lead_event e set facets = x.facets, changes = case when x.point is null then e.changes
      else jsonb_set(e.changes, '{entry}', (e.changes -> 'entry') || jsonb_strip_nulls(jsonb_build_object('key', x.point, 'landing', x.landing))) end
  from (
    select v.lead_id, v.version, case when v.version = k.version then k.stands || k.counted end as facets, s.point, s.landing
    from lead_event v join known k on k.id = v.lead_id left join sent s on s.lead_id = v.lead_id and s.version = v.version
    where v.version = k.version or s.point is not null
  ) x where e.lead_id = x.lead_id and e.version = x.version
),
-- Of whom nothing is told, who is there all the same.
unknown as (
  insert into lead_event (lead_id, version, at, cause, changes, facets) select id, 1, updated_at, 'known', '{}', stands || counted from known where version = 0
)
update lead l set counted = k.counted, version = k.last_version from known k where l.id = k.id
