CREATE TABLE `port_act` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`ended_at` text,
	`who` text NOT NULL,
	`device_id` integer NOT NULL,
	`device` text NOT NULL,
	`port` text NOT NULL,
	`act` text NOT NULL,
	`forced` integer NOT NULL,
	`seen` text NOT NULL,
	`state` text NOT NULL,
	`sent` text NOT NULL,
	`after` text,
	`credential` text DEFAULT '' NOT NULL,
	`reason` text DEFAULT '' NOT NULL,
	`remedy` text DEFAULT '' NOT NULL,
	`undoes` integer
);
--> statement-breakpoint
CREATE INDEX `port_act_port` ON `port_act` (`device_id`,`port`,`id`);