-- in pieces
-- Keys of the leads there are, from their lines, as the live scorecard fades them; all of them are judged once. What has no
-- interest has its key already.
update lead l set interest_key = k.key, half_life_days = k.half_life, judge_at = now(), card = -1
from (
  select w.id, c.half_life, case when abs(w.sum) < power(2::float8, -10) then 0 else
    sign(w.sum) * (64 + ln(abs(w.sum)) / ln(2::float8) + extract(epoch from now() - '2020-01-01T00:00:00Z'::timestamptz)::float8 / (86400 * c.half_life)) end as key
  from (select coalesce((select (definition ->> 'halfLifeDays')::float8 from scorecard_edition order by number desc limit 1), 14) as half_life) c,
    lateral (select o.id, coalesce((select sum((r ->> 'points')::float8 * power(2::float8,
        - least(1000, greatest(0, extract(epoch from now())::float8 * 1000 - (r ->> 'at')::float8) / (86400000 * c.half_life))))
      from jsonb_array_elements(o.reasons) r where r ->> 'axis' = 'interest'), 0) as sum
      from lead o where o.card = 0 order by o.id limit 500) w
) k where l.id = k.id
