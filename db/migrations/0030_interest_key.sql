-- Interest that fades needs no rewriting: a key that fading does not change orders leads by what is left of it at any moment
-- (core/scoring/interest-key). It is by a half-life, which the lead names with the scorecard that it was judged by.
alter table lead add column interest_key double precision not null default 0;
alter table lead add column half_life_days double precision not null default 14;
alter table lead add column card integer not null default 0;
-- The earliest moment at which a label or a fit rule may change with nobody doing anything; null: none.
alter table lead add column judge_at timestamptz;
-- A scorecard takes effect on leads in the background, in the order of their ids; whoever goes on finds here how far it came.
create table card_takeover (
  card integer primary key,
  position uuid,
  finished_at timestamptz
);
