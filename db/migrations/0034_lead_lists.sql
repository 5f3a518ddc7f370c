-- each statement by itself
-- Lists of leads, a page at a time, sorted either way: an index read forwards or backwards. What is not known of some stands
-- behind what is, whichever way; those are read by themselves.
-- Who is first by name, by company, by fit; who has waited longest?
create index concurrently if not exists lead_by_name on lead ((lower(coalesce(nullif(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')), ''), email, properties->>'phone'))), id);
create index concurrently if not exists lead_by_company on lead ((lower(company)), id) where company is not null;
create index concurrently if not exists lead_by_fit on lead (fit, id);
create index concurrently if not exists lead_by_waiting on lead (waiting_since, id) where waiting_since is not null;
-- Who has this label, this status, this owner?
create index concurrently if not exists lead_by_label on lead (label, id);
create index concurrently if not exists lead_by_status on lead (status, id);
create index concurrently if not exists lead_by_owner on lead (owner_id, id);
-- How many of an owner have this status and label?
create index concurrently if not exists lead_filters on lead (owner_id, status, label);
-- Whose name, company, address or number has these letters? What is new waits in a list that is read along, and is put in together.
create extension if not exists pg_trgm;
create index concurrently if not exists lead_words on lead using gin (
  (coalesce(first_name, '') || ' ' || coalesce(last_name, '') || ' ' || coalesce(company, '') || ' ' || coalesce(email, '') || ' ' || coalesce(properties->>'phone', '')) gin_trgm_ops);
