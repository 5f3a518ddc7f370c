drop table notice;
