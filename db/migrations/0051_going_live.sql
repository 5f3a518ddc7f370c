-- A working copy as it stood when somebody said that it is to go live at a moment.
create table going_live (
  point_id uuid primary key references point on delete cascade,
  at timestamptz not null,
  definition jsonb not null,
  revision integer not null,
  made_by uuid references member,
  -- Why it could not go live when its moment came.
  flaw text
);
create index going_live_due on going_live (at) where flaw is null;
