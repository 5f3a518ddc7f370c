-- How a lead's label is held beside the score (`label_floor` says which): at least or exactly, until when, by what, and why.
alter table lead add column label_held jsonb;
