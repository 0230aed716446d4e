CREATE TABLE `collector` (
	`name` text PRIMARY KEY NOT NULL,
	`version` text NOT NULL,
	`last_heard_at` text NOT NULL,
	`load` text NOT NULL,
	`fault` text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE `delivery` (
	`id` text PRIMARY KEY NOT NULL,
	`survey_id` integer NOT NULL,
	`share_id` integer NOT NULL,
	`collector` text NOT NULL,
	`arrived_at` text NOT NULL,
	`state` text NOT NULL,
	`addresses` text NOT NULL,
	`body` blob
);
--> statement-breakpoint
CREATE INDEX `delivery_survey` ON `delivery` (`survey_id`,`state`);--> statement-breakpoint
CREATE TABLE `share` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`survey_id` integer NOT NULL,
	`kind` text NOT NULL,
	`addresses` text NOT NULL,
	`state` text NOT NULL,
	`collector` text
);
--> statement-breakpoint
CREATE INDEX `share_survey` ON `share` (`survey_id`,`state`);