-- in pieces
-- What members were told: a notice is its delivery, under its id.
with moved as (delete from notice where id in (select id from notice order by id limit 2000) returning *)
insert into delivery (id, kind, channel, at, member_id, lead_id, entry_id, recipient, recipient_name, subject, body, lines, meeting, due_at, sent_at, read_at)
  select n.id, 'notice', case when m.email is not null and (n.mail_at is not null or n.mailed_at is not null) then 'mail' else 'bell' end, n.at, n.member_id, n.lead_id,
    coalesce((n.body ->> 'meeting')::uuid, (n.body ->> 'entry')::uuid, (select e.id from entry e where e.id = n.id)), m.email, m.name,
    n.subject, coalesce(n.body ->> 'text', n.subject), n.body -> 'lines', n.body ? 'meeting', n.mail_at, n.mailed_at, n.read_at
  from moved n left join member m on m.id = n.member_id
