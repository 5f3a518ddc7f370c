-- What was left of interest when it was last worked out, hour by hour. Nobody reads it any more.
drop index lead_scored;
alter table lead drop column interest, drop column scored_at;
