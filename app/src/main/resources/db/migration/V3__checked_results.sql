-- Size and SHA-256 of a result's file, so that one that was lost or cut short is seen and computed anew.
-- Negative and empty for results of before.
alter table result add bytes bigint not null default -1;
alter table result add sha256 text not null default '';
