-- Mails with a link of their own: where it leads, and when it was followed.
alter table letter
  add column goal jsonb,
  add column followed_at timestamptz,
  -- Only for those who followed no link of the mails before it.
  add column unless_followed boolean not null default false;
-- Was a link of this entry's mails followed?
create index letter_followed on letter (entry_id) where followed_at is not null;
