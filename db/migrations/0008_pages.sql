-- Landing pages: points of their own kind, that carry text and one other point.
alter table point drop constraint point_kind_check;
alter table point
  add check (kind in ('form', 'page')),
  -- Addresses that it had before; they lead on to the one of today.
  add column former_slugs text[] not null default '{}';
-- What stood at this address before?
create index point_former_slugs on point using gin (former_slugs);

-- The landing page that an entry came through.
alter table entry add column landing_id uuid references point;
-- What came through this page, newest first?
create index entry_landing on entry (landing_id, at desc) where landing_id is not null;
