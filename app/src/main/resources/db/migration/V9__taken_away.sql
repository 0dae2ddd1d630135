-- A shot that was taken away can be put back; its name is free meanwhile.
alter table shot add removed timestamptz;
alter table shot drop constraint shot_show_id_name_key;
create unique index shot_named on shot (show_id, name) where removed is null;
