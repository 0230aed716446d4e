CREATE TABLE `scheduled_run` (
	`scope_id` integer NOT NULL,
	`due_at` text NOT NULL,
	`outcome` text NOT NULL,
	`job_id` integer,
	PRIMARY KEY(`scope_id`, `due_at`)
);
