-- Mails to visitors are Markdown from now on, and wear the look of what they come from. What waits was plain text: nothing in it may
-- become a link but its addresses.
alter table delivery add column look jsonb;
update delivery set body = regexp_replace(regexp_replace(body, '([\[<\\])', '\\\1', 'g'), '(https?://[^\s<>]*[^\s<>.,;:!?)])', '<\1>', 'g')
  where member_id is null and kind in ('confirm', 'mail', 'reminder') and sent_at is null;
