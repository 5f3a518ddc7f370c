-- Who shapes the scorecard, the plan and the team's figures, beside the admin.
alter table member drop constraint member_role_check,
  add constraint member_role_check check (role in ('admin', 'manager', 'marketer', 'sales'));

-- The scorecard that is being worked on; there is one, and editions are what it was when it was made live.
create table scorecard_draft (
  only_one boolean primary key default true check (only_one),
  definition jsonb not null,
  revision int not null default 1,
  changed_at timestamptz not null default now(),
  changed_by uuid references member
);
