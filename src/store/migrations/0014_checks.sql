CREATE TABLE `check_result` (
	`key` text NOT NULL,
	`survey_id` integer NOT NULL,
	`failing` integer NOT NULL,
	`excused` integer NOT NULL,
	`filter` text NOT NULL,
	`fault` text NOT NULL,
	PRIMARY KEY(`key`, `survey_id`)
);
--> statement-breakpoint
CREATE TABLE `check_rule` (
	`key` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`thing` text NOT NULL,
	`where` text NOT NULL,
	`scope` text NOT NULL,
	`severity` text NOT NULL,
	`why` text NOT NULL,
	`remedy` text NOT NULL,
	`on` integer NOT NULL
);
