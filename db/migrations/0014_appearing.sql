-- Points that could show by themselves at the same moment: the lowest speaks first.
alter table point add column speaks int not null default 100;
