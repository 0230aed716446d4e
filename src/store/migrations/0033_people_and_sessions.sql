CREATE TABLE `session` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`hash` text NOT NULL,
	`person_id` integer NOT NULL,
	`created_at` text NOT NULL,
	`used_at` text NOT NULL,
	`source` text NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `session_hash_unique` ON `session` (`hash`);--> statement-breakpoint
CREATE INDEX `session_person` ON `session` (`person_id`);--> statement-breakpoint
ALTER TABLE `person` ADD `disabled_at` text;--> statement-breakpoint
ALTER TABLE `person` ADD `must_change` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `token` ADD `areas` text;