alter table lead alter column counted set not null, alter column counted set default '{}';
drop index lead_uncounted;
-- Who is on a list came there at some time: until now nothing told of it.
insert into lead_event (lead_id, version, at, cause, changes)
  select m.lead_id, l.version + 1, max(m.added_at), 'listed', jsonb_build_object('lists', jsonb_build_object('on', jsonb_agg(m.list_id), 'off', '[]'::jsonb))
  from list_member m join lead l on l.id = m.lead_id
  where not exists (select from lead_event v where v.lead_id = m.lead_id and v.changes ? 'lists') group by m.lead_id, l.version;
update lead l set version = l.version + 1 from lead_event v where v.lead_id = l.id and v.version = l.version + 1;
