-- A timeline is only ever read from its lead, newest first: one index does for that and for the key.
-- An entry adds four lines to it, and each line cost two places in two indexes.
alter table timeline drop constraint timeline_pkey;
drop index timeline_lead;
alter table timeline add primary key (lead_id, at, id);
