-- One table for all that leaves the house, whatever it is (docs/decisions/0040). The mails to visitors begin it, under their ids.
alter table mail rename to delivery;

do $$
declare
  found record;
begin
  for found in select conname from pg_constraint where conrelid = 'delivery'::regclass and contype in ('f', 'c')
      and (pg_get_constraintdef(oid) ~ 'REFERENCES (lead|entry)\(' or pg_get_constraintdef(oid) ~ 'kind') loop
    execute format('alter table delivery drop constraint %I', found.conname);
  end loop;
end $$;

alter table delivery
  alter column lead_id drop not null,
  -- The way it goes: what is told at the bell only leaves nothing.
  add column channel text not null default 'mail' check (channel in ('mail', 'bell')),
  -- When it was written.
  add column at timestamptz,
  -- Whom of us it tells.
  add column member_id uuid,
  add column read_at timestamptz,
  add column recipient_name text,
  -- Lines beneath the text, where no entry has them.
  add column lines jsonb,
  -- The times of the meeting of its entry go along as a calendar file.
  add column meeting boolean not null default false,
  -- In whose hands it is until when; whoever took it and does not come back has died.
  add column leased_until timestamptz,
  add column lease uuid,
  -- When it was tried last, how that ended, what was answered, and how long it took.
  add column tried_at timestamptz,
  add column failure text check (failure in ('unreachable', 'later', 'refused')),
  add column answer text,
  add column took_ms int;
comment on column delivery.due_at is 'When it goes out, or is tried again; null while its address waits to be confirmed, and for what is told at the bell only.';
comment on column delivery.dropped is 'Why it will never go out, as a word that the code knows.';

-- What has nobody to go to never went out.
delete from delivery where recipient is null and sent_at is null;
-- When something was written stands in its id (UUIDv7, RFC 9562).
update delivery set
  at = case when substr(id::text, 15, 1) = '7' then to_timestamp(('x' || lpad(translate(left(id::text, 13), '-', ''), 16, '0'))::bit(64)::bigint / 1000.0) else coalesce(sent_at, due_at, now()) end,
  kind = case when unfinished_id is null then kind else 'reminder' end,
  meeting = kind = 'meeting',
  channel = 'mail',
  dropped = case dropped when 'could not be handed over' then 'gave up' else dropped end;
alter table delivery
  alter column at set not null,
  add check (kind in ('notice', 'confirm', 'mail', 'meeting', 'reminder', 'test', 'alert')),
  add check ((kind = 'notice') = (member_id is not null)),
  add check (kind in ('test', 'alert') = (lead_id is null)),
  add check (channel <> 'mail' or recipient is not null or sent_at is not null);

drop index mail_due, mail_sent, mail_lead, mail_clicked, mail_claim, mail_recipient, mail_sent_at;
-- What is due?
create index delivery_due on delivery (due_at) where sent_at is null and dropped is null and due_at is not null;
-- What went out to this person and about them, newest first?
create index delivery_sent on delivery (lead_id, sent_at) where sent_at is not null;
-- Which mails to this person are there that did not go out?
create index delivery_waiting on delivery (lead_id) where sent_at is null and member_id is null;
-- Which of the mails of this entry had its link followed?
create index delivery_clicked on delivery (entry_id) where clicked_at is not null;
-- What waits for this claim?
create index delivery_claim on delivery (claim_id) where claim_id is not null;
-- What went to this mailbox, and to this domain?
create index delivery_recipient on delivery (recipient_key, sent_at) where sent_at is not null and recipient_key is not null;
create index delivery_domain on delivery (substring(recipient_key from '@.*$'), sent_at) where sent_at is not null and recipient_key is not null;
-- What went out on behalf of this sender?
create index delivery_sender on delivery (sender, sent_at) where sent_at is not null and sender is not null;
-- What is on its way now?
create index delivery_leased on delivery (lease) where lease is not null;
-- What went out lately?
create index delivery_sent_at on delivery (sent_at) where sent_at is not null;
-- What was this member told, and what of it have they not seen?
create index delivery_member on delivery (member_id, at desc) where member_id is not null;
create index delivery_unread on delivery (member_id) where member_id is not null and read_at is null;
-- What never went out, and why?
create index delivery_dropped on delivery (at) where dropped is not null;
-- What of our own is older than we keep it?
create index delivery_own on delivery (at) where lead_id is null;

-- What waited in the queue of jobs waits here.
do $$ begin
  if to_regclass('pgboss.job') is not null then
    insert into delivery (id, kind, at, due_at, recipient, recipient_name, subject, body, lines)
      select gen_random_uuid(), case name when 'trial' then 'test' else 'alert' end, now(), now(), data -> 'to' ->> 'address', data -> 'to' ->> 'name', data ->> 'subject', data ->> 'text', data -> 'lines'
      from pgboss.job where name in ('trial', 'alert') and state < 'completed' and data -> 'to' ->> 'address' is not null;
    delete from pgboss.job where name in ('trial', 'alert');
  end if;
end $$;
