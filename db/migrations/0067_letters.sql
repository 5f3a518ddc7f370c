-- Mails that one of us writes to one person, and what comes back.
do $$ declare c text; begin
  for c in select conname from pg_constraint where conrelid = 'delivery'::regclass and contype = 'c' and pg_get_constraintdef(oid) ~ 'confirm' loop
    execute format('alter table delivery drop constraint %I', c);
  end loop;
end $$;
alter table delivery add check (kind in ('notice', 'confirm', 'mail', 'meeting', 'reminder', 'test', 'alert', 'personal'));

-- A mail that came in, once each; of whom it is, and which of ours it answers.
create table reply (
  id uuid primary key,
  message_id text not null unique,
  delivery_id uuid,
  lead_id uuid not null references lead on delete cascade,
  at timestamptz not null default now()
);
create index reply_lead on reply (lead_id);
