-- A notice is its own place in the queue of mails: written with the entry, taken by a worker when its time has come.

alter table notice add column mail_at timestamptz;
comment on column notice.mail_at is 'When to mail it, or to try again; null when it is not to be mailed, or was.';

-- Which notices are to be mailed now?
create index notice_to_mail on notice (mail_at) where mail_at is not null;

-- What waited in the queue of before waits here now.
do $$ begin
  if to_regclass('pgboss.job') is not null then
    update notice set mail_at = at where mailed_at is null and id in (
      select n::uuid from pgboss.job, jsonb_array_elements_text(data->'notices') n where name = 'mail' and state < 'completed');
    delete from pgboss.job where name = 'mail';
  end if;
end $$;
