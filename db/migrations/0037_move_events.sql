-- in pieces
-- The lines of timelines and what was kept with entries become events, lead by lead. Lines of one moment are one cause, that of
-- the first of them that is one; where nothing says what a line came from, it is a cause of its own, called by its kind. Which
-- mails went out stands with the mails and notices, and is not moved.
with picked as materialized (select id from lead where version is null order by id limit 300),
lines as (
  select t.lead_id, t.at, t.id, t.actor_id, t.kind, case t.kind
      when 'entry' then jsonb_strip_nulls(jsonb_build_object('entry', t.payload -> 'entry', 'changed', nullif(t.payload -> 'changed', '[]'), 'agreed', t.payload -> 'agreed'))
      else t.payload end as payload
    from timeline t join picked s on s.id = t.lead_id where t.kind not in ('mailed', 'announced')
  union all
  select t.lead_id, t.at, t.id, t.actor_id, a.key, a.value from timeline t join picked s on s.id = t.lead_id
    cross join lateral jsonb_each(t.payload -> 'also') a where t.kind = 'entry'
  union all
  select e.lead_id, e.at, e.id, null, 'entry', jsonb_strip_nulls(jsonb_build_object('entry', e.id, 'changed', nullif(e.brought -> 'changed', '[]'), 'agreed', e.brought -> 'agreed'))
    from entry e join picked s on s.id = e.lead_id where e.brought is not null
  union all
  select e.lead_id, e.at, e.id, null, a.key, a.value from entry e join picked s on s.id = e.lead_id
    cross join lateral jsonb_each(e.brought -> 'also') a where e.brought is not null
),
called as (
  select l.lead_id, l.at, l.id, l.actor_id, l.payload, n.name, n.rank, n.cause,
    -- The second of a kind in one moment is of another cause.
    row_number() over (partition by l.lead_id, l.at, n.name order by l.id) as turn
  from lines l join (values
    ('entry', 'entry', 1, 'entry'), ('corrected', 'corrected', 2, 'correction'), ('brought_in', 'brought_in', 3, 'row'), ('typed', 'typed', 4, 'typed'),
    ('status', 'status', 5, 'status'), ('note', 'note', 6, 'note'), ('meeting', 'meeting', 7, 'meeting'), ('judged', 'judged', 8, 'judged'),
    ('confirmed', 'confirmed', 9, 'confirmed'), ('left', 'unsubscribed', 10, 'unsubscribed'), ('followed', 'clicked', 11, 'clicked'),
    ('owner', 'owner', 12, 'owner'), ('next_step', 'next_step', 13, 'next_step'), ('came', 'created', 14, 'created'), ('claimed', 'claimed', 15, 'claimed'),
    ('label', 'label', 16, 'label')
  ) as n(kind, name, rank, cause) on n.kind = l.kind
),
causes as (
  select lead_id, at, turn, min(id::text) as id, (array_agg(cause order by rank))[1] as cause, (array_agg(actor_id order by rank))[1] as actor_id,
    jsonb_object_agg(name, payload) as changes
  from called group by lead_id, at, turn
),
numbered as (select *, row_number() over (partition by lead_id order by at, id, turn) as version from causes),
moved as (
  insert into lead_event (lead_id, version, at, cause, actor_id, changes, fit, interest)
  select lead_id, version, at, cause, actor_id, changes, (changes -> 'label' ->> 'fit')::numeric::int, (changes -> 'label' ->> 'interest')::float8
  from numbered order by lead_id, version
)
update lead l set version = coalesce((select max(n.version) from numbered n where n.lead_id = l.id), 0) from picked s where s.id = l.id
