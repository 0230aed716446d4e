CREATE TABLE `watch` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`person_id` integer NOT NULL,
	`thing` text NOT NULL,
	`row_id` text NOT NULL,
	`name` text NOT NULL,
	`since` text NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `watch_row` ON `watch` (`person_id`,`thing`,`row_id`);