-- Who has a job in hand. A worker that was stopped and wakes again after another took its job over has an older attempt,
-- and what it says is no longer heard. Frame -1 is a task that is one job.
create table task_hold (
  task_id bigint not null references task on delete cascade,
  frame int not null,
  attempt int not null,
  held boolean not null,
  -- Attempts that neither ended nor gave the job back: what ended their workers may well be the job.
  deaths int not null,
  primary key (task_id, frame));
