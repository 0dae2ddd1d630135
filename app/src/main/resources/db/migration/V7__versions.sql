-- States of a shot that somebody gave a name, to be looked at side by side.
create table version (
  id bigserial primary key,
  shot_id bigint not null references shot,
  revision_id bigint not null references revision,
  name text not null,
  note text not null default '',
  created timestamptz not null default now(),
  unique (shot_id, name));
