-- Frames are jobs in a table of their own, so that what somebody waits for never queues behind them.
create table scheduled_frames (like scheduled_tasks including all);
insert into scheduled_frames select * from scheduled_tasks where task_name = 'frame';
delete from scheduled_tasks where task_name = 'frame';

-- Done at low priority, when nothing else is to be done.
alter table task add low boolean not null default false;

-- In which order; how often it was lined up (an older lining-up is passed over); why it failed; how long it took.
alter table task_frame add place int not null default 0;
alter table task_frame add tries int not null default 0;
alter table task_frame add failed boolean not null default false;
alter table task_frame add note text not null default '';
alter table task_frame add seconds double precision;

-- Which program has it, since when.
alter table task_hold add worker text not null default '';
alter table task_hold add taken timestamptz not null default now();
