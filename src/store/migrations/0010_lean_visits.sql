CREATE TABLE `__new_visit` (
	`survey_id` integer NOT NULL,
	`address` text NOT NULL,
	`seq` integer NOT NULL,
	`state` text NOT NULL,
	`outcome` text,
	`device_id` integer,
	`credential` text,
	`reason` text,
	`remedy` text,
	`missing` text,
	`phases` text,
	`seconds` integer,
	`path` text,
	PRIMARY KEY(`survey_id`, `address`),
	FOREIGN KEY (`survey_id`) REFERENCES `survey`(`id`) ON UPDATE no action ON DELETE no action
) WITHOUT ROWID;
--> statement-breakpoint
INSERT INTO `__new_visit`("survey_id", "address", "seq", "state", "outcome", "device_id", "credential", "reason", "remedy", "missing", "phases", "seconds", "path") SELECT "survey_id", "address", CASE WHEN "survey_id" = (SELECT max("survey_id") FROM `visit`) THEN "seq" ELSE 0 END, "state", "outcome", "device_id", "credential", "reason", "remedy", "missing", "phases", "seconds", "path" FROM `visit`;--> statement-breakpoint
DROP TABLE `visit`;--> statement-breakpoint
ALTER TABLE `__new_visit` RENAME TO `visit`;--> statement-breakpoint
CREATE INDEX `visit_seq` ON `visit` (`survey_id`,`seq`) WHERE seq > 0;--> statement-breakpoint
CREATE INDEX `visit_device` ON `visit` (`device_id`,`survey_id`);
