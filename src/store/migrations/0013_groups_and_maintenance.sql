CREATE TABLE `estate_group` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`thing` text NOT NULL,
	`kind` text NOT NULL,
	`where` text NOT NULL,
	`members` text NOT NULL,
	`within` text,
	`note` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `estate_group_name_unique` ON `estate_group` (`name`);--> statement-breakpoint
CREATE TABLE `maintenance` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`where` text NOT NULL,
	`reason` text NOT NULL,
	`from` text NOT NULL,
	`until` text,
	`by` text NOT NULL
);
