ALTER TABLE `job` ADD `worker` text;--> statement-breakpoint
ALTER TABLE `job` ADD `lease_until` integer;--> statement-breakpoint
ALTER TABLE `job` ADD `attempts` integer DEFAULT 0 NOT NULL;