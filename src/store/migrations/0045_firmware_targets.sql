CREATE TABLE `advisory` (
	`key` text PRIMARY KEY NOT NULL,
	`body` text NOT NULL,
	`taken_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `release_target` (
	`key` text PRIMARY KEY NOT NULL,
	`body` text NOT NULL
);
