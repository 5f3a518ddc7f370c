-- Names, beside the application's own, under which forms and pages are found.
create table host (
  name text primary key check (name ~ '^[a-z0-9]([a-z0-9.-]{0,251}[a-z0-9])?$'),
  -- When a browser first came here under it; nobody is led there before.
  arrived_at timestamptz,
  -- What stands at its bare address.
  front_id uuid references point on delete set null,
  made_at timestamptz not null default now()
);
alter table point add column host text references host on delete set null;
-- Which points stand under a name?
create index point_host on point (host) where host is not null;
