-- Files that one of us puts to a note or a mail about a lead.
do $$ declare c text; begin
  for c in select conname from pg_constraint where conrelid = 'file'::regclass and contype = 'c' and pg_get_constraintdef(oid) ~ 'purpose' loop
    execute format('alter table file drop constraint %I', c);
  end loop;
end $$;
alter table file
  add column lead_id uuid references lead on delete cascade,
  -- The mail that takes it along.
  add column delivery_id uuid,
  -- When a note or a mail took it; what none takes is let go after a while.
  add column used_at timestamptz,
  -- answer: a visitor's, for members only. asset: a picture or a download of ours, for everybody who has its address. lead: of a note or mail, for members only.
  add check (purpose in ('answer', 'asset', 'lead')),
  add check ((purpose = 'answer') = (made_by is null) and (question is not null) = (purpose = 'answer') and (lead_id is not null) = (purpose = 'lead'));
-- Which files has this lead, to move or to erase with it?
create index file_lead on file (lead_id) where lead_id is not null;
-- Which files go along with this mail?
create index file_delivery on file (delivery_id) where delivery_id is not null;
-- Which were put down and never sent?
create index file_unused on file (made_at) where purpose = 'lead' and used_at is null;
