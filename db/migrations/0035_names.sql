-- What forms and pages say, by the trade's names: look is theme, appears is display, letters are mails, wordings are variants.
-- In conditions, given is submitted.
create function pg_temp.renamed(d jsonb) returns jsonb language sql as $$
  select replace((
    (d - '{look, appears, letters, wordings}'::text[])
    || case when d ? 'look' then jsonb_build_object('theme', d->'look') else '{}' end
    || case when d ? 'appears' then jsonb_build_object('display', d->'appears') else '{}' end
    || case when d ? 'wordings' then jsonb_build_object('variants', d->'wordings') else '{}' end
    || case when d ? 'letters' then jsonb_build_object('mails', (
         select coalesce(jsonb_agg(m - 'unlessFollowed' || case when m ? 'unlessFollowed' then jsonb_build_object('unlessClicked', m->'unlessFollowed') else '{}' end order by n), '[]')
         from jsonb_array_elements(d->'letters') with ordinality as l(m, n))) else '{}' end
    || '{"version": 2}'
  )::text, '"attribute": "given"', '"attribute": "submitted"')::jsonb
$$;
update edition set definition = pg_temp.renamed(definition) where definition->>'version' = '1';
update point set working_copy = pg_temp.renamed(working_copy) where working_copy->>'version' = '1';
update segment set condition = replace(condition::text, '"attribute": "given"', '"attribute": "submitted"')::jsonb where condition::text like '%"attribute": "given"%';
update scorecard_edition set definition = replace(definition::text, '"attribute": "given"', '"attribute": "submitted"')::jsonb where definition::text like '%"attribute": "given"%';
update routing_edition set definition = replace(definition::text, '"attribute": "given"', '"attribute": "submitted"')::jsonb where definition::text like '%"attribute": "given"%';
alter table house_style rename column look to theme;
alter table point rename column speaks to priority;

-- Which variant of an experiment a browser saw.
alter table trial_visitor rename to experiment_visitor;
alter table experiment_visitor rename column trial to experiment;
alter table experiment_visitor rename column wording to variant;
alter index trial_visitor_visitor rename to experiment_visitor_visitor;

-- Mails to visitors.
alter table letter rename to mail;
alter table mail rename column followed_at to clicked_at;
alter table mail rename column unless_followed to unless_clicked;
alter table mail drop constraint letter_kind_check;
update mail set kind = 'mail' where kind = 'letter';
alter table mail add check (kind in ('confirm', 'mail', 'meeting'));
update mail set dropped = case dropped when 'left' then 'unsubscribed' else 'clicked' end where dropped in ('left', 'followed');
alter index letter_due rename to mail_due;
alter index letter_sent rename to mail_sent;
alter index letter_lead rename to mail_lead;
alter index letter_followed rename to mail_clicked;
alter index letter_claim rename to mail_claim;
alter index letter_recipient rename to mail_recipient;
alter index letter_sent_at rename to mail_sent_at;

alter table lead rename column left_at to unsubscribed_at;
alter table lead rename column given_at to submitted_at;
