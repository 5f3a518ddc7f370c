-- How often a point was seen and begun, by page and day. Only counted: nobody is known by it,
-- so it needs nobody's agreement.
create table point_count (
  point_id uuid not null references point,
  edition int not null,
  page text not null,
  day date not null,
  seen int not null default 0 check (seen >= 0),
  started int not null default 0 check (started >= 0),
  primary key (point_id, edition, page, day)
);
-- What was seen on the pages of the site lately?
create index point_count_day on point_count (day);
