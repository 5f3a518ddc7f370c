-- Who is signed in, and where: known by the fingerprint of a secret that only their browser has.
create table session (
  -- SHA-256 of the secret: it has 256 random bits, so nothing slower is needed.
  hash bytea primary key,
  member_id uuid not null references member,
  made_at timestamptz not null default now(),
  -- When something was asked for last.
  seen_at timestamptz not null default now()
);
-- Which sessions has this member?
create index session_member on session (member_id);
-- Which are past and can go?
create index session_seen on session (seen_at);

-- Whoever gets another password or role, or is taken out, is signed out everywhere at once, whatever changed it. A hash
-- that is only made anew, of the same password, says so.
create function end_sessions() returns trigger language plpgsql as $$
begin
  delete from session where member_id = new.id;
  perform pg_notify('cavlin', json_build_object('ended', json_build_array(new.id))::text);
  return null;
end $$;
create trigger end_sessions after update on member for each row
  when (old.role <> new.role or old.active <> new.active or (old.password_hash <> new.password_hash and coalesce(current_setting('cavlin.same_password', true), '') <> 'yes'))
  execute function end_sessions();

-- How much of an allowance is taken: reserved before something is done, so that many at once count like one by one.
create table allowance (
  kind text not null,
  key text not null,
  taken int not null,
  -- Until when it counts; then it begins anew.
  until timestamptz not null,
  primary key (kind, key)
);
-- Which are past and can go?
create index allowance_until on allowance (until);
drop table sign_in_failure;

-- From where members signed in before: who tries from elsewhere does not shut them out there.
create table member_network (
  member_id uuid not null references member,
  network text not null,
  at timestamptz not null,
  primary key (member_id, network)
);

-- What a program may do with its key, and until when. Keys from before may do what they could.
alter table api_key add column scopes text[] not null default '{leads:read,files:read,events:write}', add column expires_at timestamptz;
alter table api_key alter column scopes drop default;
