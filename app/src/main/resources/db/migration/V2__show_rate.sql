-- Frames a second of the show's shots, as a fraction; empty until somebody says it.
alter table show add rate text not null default '';
