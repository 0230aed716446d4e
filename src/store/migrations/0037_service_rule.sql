CREATE TABLE `service_rule` (
	`id` text PRIMARY KEY NOT NULL,
	`content` text NOT NULL
);
