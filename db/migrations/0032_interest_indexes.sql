-- each statement by itself
-- Who is most interested now?
create index concurrently if not exists lead_interest on lead (interest_key desc, id desc);
-- Of whom does something fall due?
create index concurrently if not exists lead_judge on lead (judge_at) where judge_at is not null;
