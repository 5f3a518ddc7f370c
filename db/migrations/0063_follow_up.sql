-- What has to be kept of a follow-up beside status, owner and next step: how the step is done, tries, how it ended, when it wakes.
alter table lead add column follow_up jsonb not null default '{}';

-- What an act changed, so that it can be taken back; and when it was.
alter table lead_event add column undo jsonb, add column undone_at timestamptz;

-- What has to be said with a status, and the reasons that are offered; where its leads went when it was given up.
alter table status
  add column asks text[] not null default '{}',
  add column reasons text[] not null default '{}',
  add column joined_into text references status;
