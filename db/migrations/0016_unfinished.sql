-- What visitors who agreed have typed and not sent, to a point of ours or a marked form of the site's own.
create table unfinished (
  -- Made by the browser: one for a form in a visit.
  id uuid primary key,
  visitor_id uuid not null,
  point_id uuid references point,
  edition int,
  -- The name of a form of the site's own.
  form text,
  lead_id uuid references lead,
  began_at timestamptz not null,
  last_at timestamptz not null,
  -- As typed, by question or by the name of the field.
  answers jsonb not null,
  page text not null,
  -- The browser's count: what was sent earlier and comes later changes nothing.
  turn int not null,
  -- The site's own form was sent to the site.
  sent_at timestamptz,
  -- It became an entry: nothing of it is kept here, and what still comes is passed over.
  finished_at timestamptz,
  check ((point_id is null) <> (form is null))
);
-- What has this browser not finished? What this lead?
create index unfinished_visitor on unfinished (visitor_id);
create index unfinished_lead on unfinished (lead_id, last_at desc) where lead_id is not null;
-- Which are so old that they can go?
create index unfinished_last on unfinished (last_at);

-- When they gave what is known of them: sent an entry, or were entered by us. Null of who only typed it.
alter table lead add column given_at timestamptz;
update lead set given_at = created_at;
alter table lead alter column given_at set default now();

-- Whether what is typed is kept before it is sent.
alter table site add column keep_unfinished boolean not null default true;
