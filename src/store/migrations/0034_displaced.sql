CREATE TABLE `displaced` (
	`survey_id` integer NOT NULL,
	`device_id` integer NOT NULL,
	`address` text NOT NULL,
	`by` integer NOT NULL,
	PRIMARY KEY(`survey_id`, `device_id`),
	FOREIGN KEY (`survey_id`) REFERENCES `survey`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `displaced_device` ON `displaced` (`device_id`,`survey_id`);