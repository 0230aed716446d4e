CREATE TABLE `upgrade` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`who` text NOT NULL,
	`at` text NOT NULL,
	`state` text NOT NULL,
	`reason` text DEFAULT '' NOT NULL,
	`at_once` integer NOT NULL,
	`stop_after` integer NOT NULL,
	`approved_by` text,
	`approved_at` text,
	`ended_at` text
);
--> statement-breakpoint
CREATE TABLE `upgrade_course` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`upgrade_id` integer NOT NULL,
	`device_id` integer NOT NULL,
	`device` text NOT NULL,
	`component` text NOT NULL,
	`name` text NOT NULL,
	`word` text NOT NULL,
	`course` text NOT NULL,
	`before` text,
	`after` text,
	`lost` text,
	`begun_at` text,
	`ended_at` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `upgrade_course_word_unique` ON `upgrade_course` (`word`);--> statement-breakpoint
CREATE INDEX `upgrade_course_of` ON `upgrade_course` (`upgrade_id`);--> statement-breakpoint
CREATE TABLE `upgrade_request` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`course_id` integer NOT NULL,
	`at` text NOT NULL,
	`method` text NOT NULL,
	`path` text NOT NULL,
	`body` text,
	`answer` text,
	`answered_at` text
);
--> statement-breakpoint
CREATE INDEX `upgrade_request_of` ON `upgrade_request` (`course_id`);