-- Groups that people are put into: by a point, or by hand.
create table list (
  id uuid primary key,
  name text not null check (name <> ''),
  made_at timestamptz not null default now()
);
create unique index list_name on list (lower(name));

create table list_member (
  list_id uuid not null references list on delete cascade,
  lead_id uuid not null references lead on delete cascade,
  added_at timestamptz not null,
  primary key (list_id, lead_id)
);
-- Which lists is this lead on?
create index list_member_lead on list_member (lead_id);
