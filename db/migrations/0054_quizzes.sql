-- Quizzes: points whose answers come to a result.
alter table point drop constraint point_kind_check,
  add constraint point_kind_check check (kind in ('form', 'quiz', 'page'));
-- What a quiz made of the answers: its result, the sums, the marks. Of a form nothing.
alter table entry add column result jsonb;
