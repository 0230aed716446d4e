CREATE TABLE `port_moment` (
	`device_id` integer NOT NULL,
	`survey_id` integer NOT NULL,
	`body` text NOT NULL,
	PRIMARY KEY(`device_id`, `survey_id`)
);
--> statement-breakpoint
CREATE INDEX `told_device` ON `told` (`device_id`,`survey_id`);