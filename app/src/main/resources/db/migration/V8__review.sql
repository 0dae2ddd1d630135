-- Links by which somebody may look at a shot and note, and nothing else. Their tokens are kept hashed.
create table review_link (
  id bigserial primary key,
  shot_id bigint not null references shot,
  name text not null,
  hash text not null unique,
  created timestamptz not null default now(),
  revoked timestamptz);

-- Notes on a frame of a shot, and on a place in it: x and y from 0 to 1, or of the frame as a whole.
create table review_note (
  id bigserial primary key,
  shot_id bigint not null references shot,
  revision_id bigint not null references revision,
  link_id bigint references review_link,
  frame int not null,
  x double precision,
  y double precision,
  author text not null,
  text text not null,
  state text not null default 'open' check (state in ('open', 'done', 'meant')),
  created timestamptz not null default now());
create index review_note_shot on review_note (shot_id, id);

-- Keys to the programming interface, kept hashed.
create table api_token (
  id bigserial primary key,
  name text not null,
  hash text not null unique,
  created timestamptz not null default now(),
  used timestamptz,
  revoked timestamptz);
