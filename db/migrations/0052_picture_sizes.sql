-- Pictures of ours in the sizes that pages need, in a format that is small, without what a camera wrote into them.
create table file_size (
  file_id uuid not null references file on delete cascade,
  width int not null,
  content bytea not null,
  primary key (file_id, width)
);
alter table file_size alter column content set storage external;
-- When that was done; of old ones it is done once.
alter table file add column sized_at timestamptz;
create index file_unsized on file (made_at) where purpose = 'asset' and type like 'image/%' and sized_at is null;
