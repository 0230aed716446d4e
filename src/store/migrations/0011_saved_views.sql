CREATE TABLE `saved_view` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`person_id` integer NOT NULL,
	`name` text NOT NULL,
	`path` text NOT NULL,
	`query` text NOT NULL,
	`shared` integer NOT NULL,
	`saved_at` text NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `saved_view_name` ON `saved_view` (`person_id`,`path`,`name`);