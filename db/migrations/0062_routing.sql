-- Working hours by day, with split days, and days off: the firm's, and each one's own where they differ.
alter table house add column week jsonb;
update house set week = (
  select jsonb_agg(case when d = any(working_days) then jsonb_build_array(jsonb_build_object('from', works_from * 60, 'until', works_until * 60)) else '[]' end order by d)
  from generate_series(1, 7) d);
alter table house alter column week set not null, drop column working_days, drop column works_from, drop column works_until;

-- Days on which nobody of the firm works, the last one included.
create table holiday (
  id uuid primary key,
  from_day date not null,
  until_day date not null,
  name text not null,
  check (from_day <= until_day)
);

alter table member
  -- Their own week and zone; null: the firm's.
  add column week jsonb,
  add column zone text,
  -- They get no more in turns while they have so many open leads.
  add column most_open int check (most_open >= 0),
  -- What they speak, by the codes of languages.
  add column languages text[] not null default '{}';

-- Somebody is away; who looks after their leads meanwhile.
create table absence (
  id uuid primary key,
  member_id uuid not null references member,
  from_at timestamptz not null,
  until_at timestamptz not null,
  stand_in uuid references member check (stand_in <> member_id),
  check (from_at < until_at)
);
-- Who is away now, or will be?
create index absence_until on absence (until_at);

-- What each of a lane is owed: after n leads of which they should have got the share s and got x, n·s − x.
alter table turn add column credit float8 not null default 0;
update turn t set credit = m.mean - t.given from (select lane, avg(given)::float8 as mean from turn group by lane) m where m.lane = t.lane;

-- The lane that gave it its owner, or that it waits for, and until when it waits. It falls due with `judge_at`.
alter table lead add column lane text, add column route_at timestamptz;

-- The working copy of the routing plan.
create table routing_draft (
  only_one boolean primary key default true check (only_one),
  definition jsonb not null,
  revision int not null default 1,
  changed_at timestamptz not null default now(),
  changed_by uuid references member
);

-- Who owns others of the same firm?
create index lead_likeness_domain on lead_likeness (domain) where domain is not null;
create index lead_likeness_firm on lead_likeness (firm) where firm is not null;
