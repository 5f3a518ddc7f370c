-- When it was shown that a browser is a lead's: they confirmed an entry that was sent from it, or opened a mailed link in it.
-- Until then it is only said, and the browser is told nothing but what it brought about itself.
alter table visitor_lead add column proven_at timestamptz;

-- What a browser calls itself is a secret that only it holds; what is kept is made from it, and is of no use to anybody.
create function browser_id(secret uuid) returns uuid language sql immutable strict as $$
  select overlay(overlay(h placing '8' from 13 for 1) placing substr('89ab', 1 + (('x' || substr(h, 17, 1))::bit(4)::int & 3), 1) from 17 for 1)::uuid
  from (select encode(substring(sha256(convert_to('cavlin browser ' || secret::text, 'utf8')) from 1 for 16), 'hex') as h) s
$$;
update visit set visitor_id = browser_id(visitor_id);
update trail_event set visitor_id = browser_id(visitor_id);
update visitor_lead set visitor_id = browser_id(visitor_id);
update entry set visitor_id = browser_id(visitor_id) where visitor_id is not null;
update unfinished set visitor_id = browser_id(visitor_id);
update trial_visitor set visitor_id = browser_id(visitor_id) where not unnamed;
update forgotten_visitor set visitor_id = browser_id(visitor_id);
drop function browser_id(uuid);
