CREATE TABLE `image_file` (
	`name` text PRIMARY KEY NOT NULL,
	`bytes` integer NOT NULL,
	`changed_at` real NOT NULL,
	`hash` text NOT NULL,
	`mistake` text NOT NULL
);
