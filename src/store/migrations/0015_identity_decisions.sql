CREATE TABLE `identity_decision` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`kind` text NOT NULL,
	`kept_id` integer NOT NULL,
	`other_id` integer NOT NULL,
	`survey_id` integer NOT NULL,
	`words` text NOT NULL,
	`undone` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE `identity_pin` (
	`name` text NOT NULL,
	`address` text NOT NULL,
	`device_id` integer NOT NULL,
	PRIMARY KEY(`name`, `address`)
);
