-- Looks that are decided once and followed by all points that name them.
create table house_style (
  id uuid primary key,
  name text not null,
  look jsonb not null,
  created_at timestamptz not null default now()
);
create unique index house_style_name on house_style (lower(name));
