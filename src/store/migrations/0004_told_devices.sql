CREATE TABLE `told` (
	`survey_id` integer NOT NULL,
	`device_id` integer NOT NULL,
	`by` text NOT NULL,
	PRIMARY KEY(`survey_id`, `device_id`),
	FOREIGN KEY (`survey_id`) REFERENCES `survey`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `job` ADD `result` text;