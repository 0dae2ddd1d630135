-- The call sheet of each shot as it was last worked out, for the front page: looking at many shots opens none.
create table sheet (
  shot_id bigint primary key references shot,
  revision_id bigint not null references revision,
  first int,
  lines jsonb not null);
