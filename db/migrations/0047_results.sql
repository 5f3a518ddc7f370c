-- A point's results are counted as things happen (core/results): of its entries by a consumer of the stream, day by day where the
-- house is and edition by edition; of what is seen and begun beside `point_count`.
create table result_count (
  point_id uuid not null,
  figure text not null,
  day date not null,
  edition int not null,
  key text[] not null,
  n bigint not null,
  -- How many were there of a figure of this point in these days?
  primary key (point_id, figure, day, edition, key)
);

-- What a member is told about an entry that waits for approval is about no lead yet.
alter table delivery drop constraint delivery_about;
alter table delivery add constraint delivery_about
  check (case when kind in ('test', 'alert') then lead_id is null else lead_id is not null or list_id is not null or entry_id is not null end);

-- How far people came with a form, question by question, as far as they agreed to be counted or it stands on a page of ours.
create table point_question (
  point_id uuid not null references point,
  edition int not null,
  question text not null,
  day date not null,
  -- Answered, or passed over; and those who were at it when they left.
  reached int not null default 0 check (reached >= 0),
  stopped int not null default 0 check (stopped >= 0),
  primary key (point_id, day, edition, question)
);
