-- A table that was brought in can be taken back as a whole, for some weeks: of each row stays whose lead it became, and what it did.
alter table import
  drop constraint import_phase_check,
  -- undo: what rows did is taken back; undone.
  add constraint import_phase_check check (phase in ('people', 'list', 'done', 'undo', 'undone')),
  -- Who answers for people of whom nobody does: nobody, plan, or a member's id.
  add column owners text not null default 'nobody',
  add column total int not null default 0,
  -- How many went when it was taken back, and how many stayed, for something had happened since.
  add column gone int not null default 0,
  add column stayed int not null default 0,
  add column undone_by uuid references member (id) on delete set null;
drop index import_open;
-- Which imports are still to be ended?
create index import_open on import (touched_at) where phase not in ('done', 'undone');
-- What was brought onto a list lately?
create index import_list on import (list_id, made_at desc);

delete from import_row r where lead_id is not null and not exists (select from lead l where l.id = r.lead_id);
alter table import_row
  -- Forgotten once it is taken in.
  alter column person drop not null,
  add column fresh boolean not null default false,
  add column listed boolean not null default false,
  -- Who got the lead by it.
  add column owner_id uuid,
  add foreign key (lead_id) references lead (id) on delete cascade;
-- Which rows go with a lead?
create index import_row_lead on import_row (lead_id);

-- What a member is told about many at once leads to their list, where else a lead stands.
alter table delivery add column list_id uuid references list (id);
do $$
begin
  execute (select format('alter table delivery drop constraint %I', conname) from pg_constraint
    where conrelid = 'delivery'::regclass and contype = 'c' and pg_get_constraintdef(oid) ~ 'alert' and pg_get_constraintdef(oid) ~ 'lead_id');
end $$;
alter table delivery add constraint delivery_about check ((kind in ('test', 'alert') or list_id is not null) = (lead_id is null));
