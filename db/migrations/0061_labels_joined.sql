-- A label that was joined with another: nobody gets it any more, what happened under it keeps its name.
alter table label add column joined_into text references label on delete cascade;
create index label_joined on label (joined_into) where joined_into is not null;
