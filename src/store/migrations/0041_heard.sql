CREATE TABLE `conversation` (
	`id` integer PRIMARY KEY NOT NULL,
	`client` integer NOT NULL,
	`server` integer NOT NULL,
	`port` integer NOT NULL,
	`protocol` integer NOT NULL,
	`basis` text NOT NULL,
	`changed` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `conversation_ends` ON `conversation` (`client`,`server`,`port`,`protocol`);--> statement-breakpoint
CREATE INDEX `conversation_changed` ON `conversation` (`changed`);--> statement-breakpoint
CREATE TABLE `heard` (
	`conversation_id` integer NOT NULL,
	`capture_id` integer NOT NULL,
	`events` integer NOT NULL,
	`packets_to_server` integer NOT NULL,
	`packets_to_client` integer NOT NULL,
	`octets_to_server` integer NOT NULL,
	`octets_to_client` integer NOT NULL,
	`first_seen` real NOT NULL,
	`last_seen` real NOT NULL,
	`hours` text NOT NULL,
	PRIMARY KEY(`conversation_id`, `capture_id`)
) WITHOUT ROWID;
--> statement-breakpoint
CREATE INDEX `heard_capture` ON `heard` (`capture_id`);--> statement-breakpoint
CREATE TABLE `talk_address` (
	`id` integer PRIMARY KEY NOT NULL,
	`address` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `talk_address_address_unique` ON `talk_address` (`address`);--> statement-breakpoint
INSERT INTO `talk_address` (`address`) SELECT `client` FROM `talk` UNION SELECT `server` FROM `talk`;--> statement-breakpoint
INSERT INTO `conversation` (`client`, `server`, `port`, `protocol`, `basis`, `changed`) SELECT c.`id`, s.`id`, t.`port`, t.`protocol`, max(t.`basis`), 0 FROM `talk` t JOIN `talk_address` c ON c.`address` = t.`client` JOIN `talk_address` s ON s.`address` = t.`server` GROUP BY 1, 2, 3, 4;--> statement-breakpoint
INSERT INTO `heard` SELECT v.`id`, t.`capture_id`, t.`events`, t.`packets_to_server`, t.`packets_to_client`, t.`octets_to_server`, t.`octets_to_client`, t.`first_seen`, t.`last_seen`, t.`hours` FROM `talk` t JOIN `talk_address` c ON c.`address` = t.`client` JOIN `talk_address` s ON s.`address` = t.`server` JOIN `conversation` v ON v.`client` = c.`id` AND v.`server` = s.`id` AND v.`port` = t.`port` AND v.`protocol` = t.`protocol`;
