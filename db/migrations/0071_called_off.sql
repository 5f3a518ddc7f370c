-- Meetings that were called off stand there still: whoever chooses anew goes on from them, and calendars hear of both.
alter table meeting add column called_off_at timestamptz;
do $$ declare c text; begin
  for c in select conname from pg_constraint where conrelid = 'meeting'::regclass and contype = 'x' loop
    execute format('alter table meeting drop constraint %I', c);
  end loop;
end $$;
-- Nobody is at two meetings at once, whoever chooses at the same moment.
alter table meeting add exclude using gist (member_id with =, tstzrange(starts_at, ends_at) with &&) where (called_off_at is null);
