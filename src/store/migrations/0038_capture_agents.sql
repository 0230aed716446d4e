CREATE TABLE `capture_agent` (
	`point` text PRIMARY KEY NOT NULL,
	`last_heard_at` text NOT NULL,
	`every_seconds` integer NOT NULL,
	`packets` integer NOT NULL,
	`overflowed` integer NOT NULL,
	`held_back` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `talk_batch` (
	`id` text PRIMARY KEY NOT NULL,
	`at` text NOT NULL
);
