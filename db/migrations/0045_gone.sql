-- When the page was left of which this visit knew last; null while it is open, as far as anybody can tell.
alter table visit add column gone_at timestamptz;
