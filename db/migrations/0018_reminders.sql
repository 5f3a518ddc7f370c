-- Browsers whose people changed their mind: what was still under way from them is passed over.
create table forgotten_visitor (
  visitor_id uuid primary key,
  at timestamptz not null
);

-- Mails to people who began and did not send: only where the house allows it, and they agreed.
alter table site add column mail_unfinished boolean not null default false;
alter table letter alter column entry_id drop not null, add column unfinished_id uuid;
alter table unfinished add column reminded_at timestamptz;
