-- As whom a mail goes out, and where replies go, where the point says so; else as the house does.
alter table delivery add column from_name text, add column reply_to text;
