-- Figures are counted as things happen (core/figures): what has to be known of a lead for them, and how it is counted since an event.
alter table lead add column counted jsonb;
alter table lead_event add column facets jsonb;

-- So many of a figure, under a key, in a bucket of time that begins at a moment; kept up by a consumer of the stream.
create table rollup (
  figure text not null,
  at timestamptz not null,
  key text[] not null,
  n bigint not null,
  -- How many were there of a figure since then?
  primary key (figure, at, key)
);
-- For which definitions of figures, and in which zone, they were counted: with others they are counted anew.
alter table consumer add column made_for text not null default '';

-- Who is still to be looked at?
create index lead_uncounted on lead (id) where counted is null;
