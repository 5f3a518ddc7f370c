-- Members, points and editions are never removed and keep their keys: they are put out of use instead. That is held here,
-- where it could be broken, and need not be asked anew for each entry and notice (docs/decisions/0028).
create function stays() returns trigger language plpgsql as $$
begin
  raise exception 'What others refer to stays in "%", under its id. Put it out of use instead.', tg_table_name using errcode = 'restrict_violation';
end $$;

do $$
declare
  kept text;
begin
  foreach kept in array array['member', 'point', 'edition'] loop
    execute format('create trigger stays before delete on %I for each row execute function stays()', kept);
    execute format('create trigger keeps_key before update on %I for each row when (old.id <> new.id) execute function stays()', kept);
    execute format('create trigger stays_whole before truncate on %I execute function stays()', kept);
  end loop;
end $$;

alter table notice drop constraint notice_member_id_fkey;
alter table entry drop constraint entry_edition, drop constraint entry_landing_id_fkey;
alter table edition drop constraint edition_of_point;

-- Nothing searched by this any more since the search looks at telephone numbers, too.
drop index lead_search;
drop extension pg_trgm;
