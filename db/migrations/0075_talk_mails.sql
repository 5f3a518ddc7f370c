-- A conversation goes on by mail when its visitor has left, and a mail that comes back goes on with it.
alter table conversation
  -- Up to which line they were sent what they had not read.
  add column mailed int not null default 0,
  -- The lane of the routing plan whose people are to take it; nobody's in particular without one.
  add column pool text,
  drop constraint conversation_began_by_check,
  add constraint conversation_began_by_check check (began_by in ('tab', 'greeting', 'button', 'page', 'member', 'mail'));
-- Which conversations may hold something that was not read where it was said?
create index conversation_unread on conversation (last_at) where lead_id is not null and member_id is not null and mailed < last and seen_by_visitor < last;

-- The conversation that a mail goes on with: what answers it belongs there.
alter table delivery add column conversation_id uuid references conversation on delete set null;
create index delivery_conversation on delivery (conversation_id) where conversation_id is not null;

-- Files that somebody sends in a conversation: a visitor's, or one of ours. Once the answers are taken in, those that answer a question are the entry's, too.
do $$ declare c text; begin
  for c in select conname from pg_constraint where conrelid = 'file'::regclass and contype = 'c' and pg_get_constraintdef(oid) ~ 'purpose' loop
    execute format('alter table file drop constraint %I', c);
  end loop;
end $$;
alter table file
  add column conversation_id uuid references conversation on delete cascade,
  -- answer: a visitor's, for members only. asset: a picture or a download of ours, for everybody who has its address. lead: of a note or mail, for members only. talk: of a conversation, for members and for whoever holds it.
  add check (purpose in ('answer', 'asset', 'lead', 'talk')),
  add check ((purpose = 'answer') <= (made_by is null and question is not null)),
  add check ((purpose in ('asset', 'lead')) <= (made_by is not null and question is null)),
  add check ((lead_id is not null) = (purpose = 'lead') and (conversation_id is not null) <= (purpose in ('answer', 'talk')) and (purpose = 'talk') <= (conversation_id is not null));
-- Which files stand in this conversation?
create index file_conversation on file (conversation_id) where conversation_id is not null;

-- What people call an edition.
alter table edition add column name text check (length(name) between 1 and 80);
