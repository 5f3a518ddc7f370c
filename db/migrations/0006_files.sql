-- Files: what visitors send along with an entry, and what the team shows or hands out.
alter table property drop constraint property_kind_check;
alter table property
  add check (kind in ('short_text', 'long_text', 'email', 'phone', 'number', 'money', 'date', 'one_of', 'some_of', 'yes_no', 'url', 'country', 'file'));

create table file (
  id uuid primary key,
  -- answer: a visitor's, for members only. asset: a picture or a download of ours, for everybody who has its address.
  purpose text not null check (purpose in ('answer', 'asset')),
  entry_id uuid references entry on delete cascade,
  question text,
  name text not null,
  -- What its content is, whatever its name says.
  type text not null,
  size int not null check (size >= 0),
  sha256 bytea not null,
  -- Of pictures, in pixels.
  width int,
  height int,
  content bytea not null,
  made_at timestamptz not null,
  made_by uuid references member,
  check ((purpose = 'asset') = (made_by is not null) and (question is not null) = (purpose = 'answer'))
);
-- What is in there is compressed already.
alter table file alter column content set storage external;
-- Which files came with this entry?
create index file_entry on file (entry_id) where entry_id is not null;
-- Do we have this picture or download already?
create unique index file_asset on file (sha256, name) where purpose = 'asset';
