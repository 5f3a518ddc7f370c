-- The visitor's trail: what browsers did whose people agreed. It grows by far the fastest, so it is cut by
-- month, and what is too old leaves by dropping a part.

-- A request is taken in once, however often it comes.
create table trail_batch (
  id uuid primary key,
  at timestamptz not null
);
-- Which of them can be forgotten?
create index trail_batch_at on trail_batch using brin (at);

-- One sitting of a browser on a site.
create table visit (
  id uuid primary key,
  visitor_id uuid not null,
  site text not null,
  began_at timestamptz not null,
  last_at timestamptz not null,
  pages int not null default 0,
  -- Where they are now.
  path text not null default '/',
  title text,
  referrer text,
  utm jsonb not null default '{}',
  source text not null,
  language text,
  device text not null check (device in ('computer', 'phone', 'tablet', 'other')),
  place text,
  -- A machine. Kept apart from all figures.
  robot boolean not null default false
);
-- The visits of a browser, newest first.
create index visit_visitor on visit (visitor_id, last_at desc);
-- Who is on the site now?
create index visit_last on visit (last_at desc);

alter table trail_event rename to trail_event_before;
drop index trail_event_visitor, trail_event_lead, trail_event_at, visitor_lead;
create table trail_event (
  at timestamptz not null,
  visitor_id uuid not null,
  visit_id uuid not null,
  kind text not null check (kind in ('page', 'read', 'mark', 'seen', 'started', 'question', 'left', 'finished', 'file', 'event')),
  path text not null,
  title text,
  -- What belongs to the kind: seconds and depth, the point, the question, the name and properties of an event.
  data jsonb
) partition by range (at);
-- What did this browser do, newest first?
create index trail_event_visitor on trail_event (visitor_id, at desc);
-- What was done lately? Rows come in the order of time, which a block range index knows at hardly any cost.
create index trail_event_at on trail_event using brin (at) with (pages_per_range = 32, autosummarize = on);

-- Makes sure that there is a part for the month of a day. Called ahead of time; two at once do no harm.
create function make_trail_part(day date) returns void language plpgsql as $$
declare
  from_day date := date_trunc('month', day);
  part text := 'trail_event_' || to_char(from_day, 'YYYY_MM');
begin
  if to_regclass(part) is not null then return; end if;
  perform pg_advisory_xact_lock(4311);
  execute format('create table if not exists %I partition of trail_event for values from (%L) to (%L)', part,
    from_day::timestamp at time zone 'UTC', (from_day + interval '1 month')::timestamp at time zone 'UTC');
end $$;
select make_trail_part(day::date) from (
  select generate_series(date_trunc('month', least(now() - interval '1 month', (select min(at) from trail_event_before))), now() + interval '2 months', interval '1 month') as day) s;

insert into visit (id, visitor_id, site, began_at, last_at, pages, path, title, referrer, utm, source, device)
select visit_id, (array_agg(visitor_id order by at))[1], substring(min(page) from '^[a-z]+://[^/]+'), min(at), max(at), count(*), (array_agg(path order by at desc))[1], (array_agg(title order by at desc))[1],
  (array_agg(referrer order by at))[1], (array_agg(utm order by at))[1], coalesce((array_agg(utm order by at))[1] ->> 'source', substring((array_agg(referrer order by at))[1] from '^[a-z]+://([^/:]+)'), 'direct'), 'other'
from trail_event_before group by visit_id;
insert into trail_event (at, visitor_id, visit_id, kind, path, title) select at, visitor_id, visit_id, 'page', path, title from trail_event_before;

-- While whose a browser was: from the first look on, or from when somebody else was known there.
create table visitor_lead (
  id uuid primary key,
  visitor_id uuid not null,
  lead_id uuid not null references lead,
  since timestamptz not null default '-infinity',
  until timestamptz not null default 'infinity',
  -- Somebody said that it was not them.
  undone_at timestamptz
);
-- Whose is this browser? It is at most one person's at a time.
create unique index visitor_lead_now on visitor_lead (visitor_id) where until = 'infinity' and undone_at is null;
create index visitor_lead_visitor on visitor_lead (visitor_id);
-- Which browsers are this lead's?
create index visitor_lead_lead on visitor_lead (lead_id);
insert into visitor_lead (id, visitor_id, lead_id) select gen_random_uuid(), id, lead_id from visitor;
drop table visitor;
drop table trail_event_before;

-- What the team decided about its site.
create table site (
  one boolean primary key default true check (one),
  -- own: Cavlin's notice asks; site: the site's own asks and calls; not_needed: nobody has to be asked.
  agreement text not null default 'site' check (agreement in ('own', 'site', 'not_needed')),
  notice text not null default '',
  -- How the notice looks; none: as forms do before anybody decides.
  style uuid references house_style on delete set null,
  -- The sites that may send trails, as origins; none: any.
  origins text[] not null default '{}',
  -- Of an address's query only these go along.
  parameters text[] not null default '{}',
  retention_months int not null default 13 check (retention_months between 1 and 120)
);
insert into site (one) values (true);
