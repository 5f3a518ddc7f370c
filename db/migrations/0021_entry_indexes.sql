-- Which entries of a point are whose, and from when? One index that holds both answers, instead of two.
drop index entry_who;
drop index entry_point;
create index entry_point on entry (point_id, at desc) include (lead_id, state);

-- An entry answers an edition of its own point: checked at once, instead of a point and an edition one by one.
alter table edition add constraint edition_of_point unique (id, point_id);
alter table entry drop constraint entry_point_id_fkey, drop constraint entry_edition_id_fkey,
  add constraint entry_edition foreign key (edition_id, point_id) references edition (id, point_id);
