-- What reaches somebody, how and when; and what nobody of the firm may turn down.
alter table member add column telling jsonb;
alter table house add column insists text[] not null default '{}';

alter table delivery
  -- When it goes out with others in one mail; null: by itself.
  add column together_at timestamptz,
  -- It is such a mail: the bell has told its lines already.
  add column is_summary boolean not null default false;
-- What is to go out together by now?
create index delivery_together on delivery (together_at) where together_at is not null and dropped is null;

-- A mail that says several things is about nobody alone.
alter table delivery drop constraint delivery_about;
alter table delivery add constraint delivery_about check (
  case when kind in ('test', 'alert') or is_summary then lead_id is null
    else lead_id is not null or list_id is not null or entry_id is not null end);
