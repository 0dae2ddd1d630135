create table show (
  id bigserial primary key,
  name text not null unique,
  created timestamptz not null default now());

create table shot (
  id bigserial primary key,
  show_id bigint not null references show,
  name text not null,
  head bigint,
  created timestamptz not null default now(),
  unique (show_id, name));

-- One state of a shot; never changed, never deleted. Undo and redo move the shot's head.
create table revision (
  id bigserial primary key,
  shot_id bigint not null references shot,
  parent bigint references revision,
  document jsonb not null,
  summary text not null,
  who text not null,
  created timestamptz not null default now());
create index revision_parent on revision (parent);
alter table shot add foreign key (head) references revision;

-- Files brought in, named by the hash of their content.
create table media (
  hash text primary key,
  name text not null,
  kind text not null,
  bytes bigint not null,
  created timestamptz not null default now());

create table shelf (
  hash text primary key references media,
  kind text not null,
  name text not null,
  facts jsonb not null,
  created timestamptz not null default now());

-- What was computed, by the fingerprint of what determines it. Pixels and long lists are files beside it.
create table result (
  kind text not null,
  fingerprint text not null,
  facts jsonb not null,
  file text not null,
  created timestamptz not null default now(),
  primary key (kind, fingerprint));

create table task (
  id bigserial primary key,
  shot_id bigint not null references shot,
  revision_id bigint not null references revision,
  kind text not null,
  label text not null,
  settings text not null default '',
  state text not null default 'waiting',
  done double precision not null default 0,
  note text not null default '',
  created timestamptz not null default now(),
  started timestamptz,
  ended timestamptz);
create index task_shot on task (shot_id, id);

create table task_frame (
  task_id bigint not null references task,
  frame int not null,
  finished boolean not null default false,
  primary key (task_id, frame));

-- The job engine's own table, as its documentation gives it for PostgreSQL.
create table scheduled_tasks (
  task_name text not null,
  task_instance text not null,
  task_data bytea,
  execution_time timestamptz not null,
  picked boolean not null,
  picked_by text,
  last_success timestamptz,
  last_failure timestamptz,
  consecutive_failures int,
  last_heartbeat timestamptz,
  version bigint not null,
  priority smallint,
  primary key (task_name, task_instance));
create index execution_time_idx on scheduled_tasks (execution_time);
create index last_heartbeat_idx on scheduled_tasks (last_heartbeat);
