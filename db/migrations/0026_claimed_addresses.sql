-- Addresses that arrived on people who were found by something else: claimed, until they are confirmed and, where two were, a
-- person has judged. Nobody is found or answered by one.
create table claimed_address (
  id uuid primary key,
  lead_id uuid not null references lead on delete cascade,
  address text not null,
  email_key text not null,
  -- The entry that brought it.
  entry_id uuid,
  claimed_at timestamptz not null,
  -- When it got the one mail that asks to confirm it; null when it got none.
  asked_at timestamptz,
  confirmed_at timestamptz,
  settled_at timestamptz,
  settled_by uuid references member,
  theirs boolean,
  check ((settled_at is null) = (theirs is null)),
  -- The same address again on the same person is the same claim.
  unique (lead_id, email_key)
);
-- Which addresses were confirmed and wait for somebody to judge?
create index claimed_address_waits on claimed_address (confirmed_at) where confirmed_at is not null and settled_at is null;
-- Who else claims this address?
create index claimed_address_key on claimed_address (email_key);

-- Since when a lead's address is one that was claimed, and that nobody of the house has vouched for: nothing from before goes to it.
alter table lead add column guarded_at timestamptz;

-- Whom a mail goes to is settled when it is written; the claim it waits for, if it does; and who sent what it answers, as
-- a fingerprint that is taken away after a day.
alter table letter
  add column recipient text,
  add column recipient_key text,
  add column claim_id uuid references claimed_address on delete cascade,
  add column sender bytea;
update letter t set recipient = l.email, recipient_key = lower(regexp_replace(replace(split_part(l.email_key, '@', 1), '.', ''), '[+].*$', '')) || '@' || split_part(l.email_key, '@', 2)
  from lead l where l.id = t.lead_id;
-- Which letters wait for this claim?
create index letter_claim on letter (claim_id) where claim_id is not null;
-- What went to this address, or this domain, within the last hour?
create index letter_recipient on letter (recipient_key, sent_at) where sent_at is not null;
create index letter_sent_at on letter (sent_at) where sent_at is not null;

-- Addresses that stand unconfirmed on leads whose making entry did not bring them were put there by somebody who knew, say, a number.
with making as (
  select distinct on (e.lead_id) e.lead_id, e.id, e.answers, d.definition
  from entry e join edition d on d.id = e.edition_id
  where e.state = 'complete' and e.lead_id in (select l.id from lead l where l.email is not null and l.confirmed_at is null and exists (select from lead_key k where k.lead_id = l.id))
  order by e.lead_id, e.at, e.id),
foreigners as (
  select l.id, l.email, l.email_key from lead l join making m on m.lead_id = l.id
  where coalesce(m.definition -> 'people' -> 'same', '["email"]') <> '["email"]'
    and not exists (
      select from jsonb_array_elements(m.definition -> 'questions') q
      where q ->> 'property' = 'email' and lower(btrim(m.answers ->> (q ->> 'key'))) in (lower(l.email), l.email_key))),
claimed as (
  insert into claimed_address (id, lead_id, address, email_key, claimed_at)
  select gen_random_uuid(), id, email, email_key, now() from foreigners returning id, lead_id),
waiting as (
  update letter t set claim_id = c.id, due_at = null from claimed c where t.lead_id = c.lead_id and t.sent_at is null and t.dropped is null)
update lead l set email = null, email_key = null from foreigners f where l.id = f.id;
