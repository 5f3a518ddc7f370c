-- Under which secret address somebody's calendar is read: what is kept is its fingerprint.
alter table member add column calendar_key text unique;
