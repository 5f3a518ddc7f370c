-- A table of people is staged whole before anybody is touched, then taken in piece by piece; their list is published last. Whoever
-- goes on with one that was interrupted finds here how far it came.
create table import (
  id uuid primary key,
  list_id uuid not null references list (id),
  by_id uuid references member (id) on delete set null,
  replaces boolean not null,
  made_at timestamptz not null,
  -- people: rows become leads; list: they are on the list, and are judged anew; done.
  phase text not null default 'people' check (phase in ('people', 'list', 'done')),
  -- Rows up to this one are done in the phase.
  position int not null default 0,
  fresh int not null default 0,
  known int not null default 0,
  touched_at timestamptz not null
);
-- Which imports are still to be ended?
create index import_open on import (touched_at) where phase <> 'done';
create table import_row (
  import_id uuid not null references import (id) on delete cascade,
  n int not null,
  person jsonb not null,
  lead_id uuid,
  primary key (import_id, n)
);
