-- The language in which the site asks its visitors, and a house's own words in place of ours.
alter table site add column language text not null default 'en';
create table own_text (
  language text not null,
  key text not null,
  text text not null check (text <> ''),
  primary key (language, key)
);
-- The language that an entry was answered in; null where it is the point's own.
alter table entry add column language text;
