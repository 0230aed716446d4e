CREATE TABLE `capture` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`point` text NOT NULL,
	`file` text NOT NULL,
	`digest` text NOT NULL,
	`taken_at` text NOT NULL,
	`is_whole` integer NOT NULL,
	`packets` integer NOT NULL,
	`passed_over` integer NOT NULL,
	`first_seen` real,
	`last_seen` real,
	`broken_off` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `capture_digest` ON `capture` (`digest`);--> statement-breakpoint
CREATE TABLE `talk` (
	`capture_id` integer NOT NULL,
	`client` text NOT NULL,
	`server` text NOT NULL,
	`port` integer NOT NULL,
	`protocol` integer NOT NULL,
	`basis` text NOT NULL,
	`events` integer NOT NULL,
	`packets_to_server` integer NOT NULL,
	`packets_to_client` integer NOT NULL,
	`octets_to_server` integer NOT NULL,
	`octets_to_client` integer NOT NULL,
	`first_seen` real NOT NULL,
	`last_seen` real NOT NULL,
	`hours` text NOT NULL,
	PRIMARY KEY(`capture_id`, `client`, `server`, `port`, `protocol`)
);
