-- Who somebody is by other properties than their e-mail address, for the points that ask so.
-- A lead then has another way to be reached, and perhaps no address.
alter table lead alter column email drop not null, alter column email_key drop not null;

create table lead_key (
  -- The properties, like `phone` or `last_name+postcode`.
  rule text not null,
  key text not null,
  lead_id uuid not null references lead on delete cascade,
  -- Two leads are never the same person under a rule.
  primary key (rule, key)
);
-- Which keys does this lead have?
create index lead_key_lead on lead_key (lead_id);
