-- All there was has been moved (0037): nothing is read in two ways.
alter table lead alter column version set not null, alter column version set default 0;
drop index lead_unversioned;
drop view happened;
drop table timeline;
alter table entry drop column brought;
