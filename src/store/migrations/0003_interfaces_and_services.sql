CREATE TABLE `fault_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `fault_fact_open` ON `fault_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `fault_fact_from` ON `fault_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `fault_fact_until` ON `fault_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `fault_fact_device` ON `fault_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `interface_report` (
	`device_id` integer NOT NULL,
	`interface` text NOT NULL,
	`survey_id` integer NOT NULL,
	`body` blob NOT NULL,
	PRIMARY KEY(`device_id`, `interface`)
);
--> statement-breakpoint
CREATE TABLE `machine_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `machine_fact_open` ON `machine_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `machine_fact_from` ON `machine_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `machine_fact_until` ON `machine_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `machine_fact_device` ON `machine_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `peer_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `peer_fact_open` ON `peer_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `peer_fact_from` ON `peer_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `peer_fact_until` ON `peer_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `peer_fact_device` ON `peer_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `pinned_certificate` (
	`address` text NOT NULL,
	`port` integer NOT NULL,
	`fingerprint` text NOT NULL,
	`subject` text NOT NULL,
	`pinned_at` text NOT NULL,
	`offered` text,
	`offered_at` text,
	PRIMARY KEY(`address`, `port`)
);
--> statement-breakpoint
CREATE TABLE `route_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `route_fact_open` ON `route_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `route_fact_from` ON `route_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `route_fact_until` ON `route_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `route_fact_device` ON `route_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `service_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `service_fact_open` ON `service_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `service_fact_from` ON `service_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `service_fact_until` ON `service_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `service_fact_device` ON `service_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `software_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `software_fact_open` ON `software_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `software_fact_from` ON `software_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `software_fact_until` ON `software_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `software_fact_device` ON `software_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `wlan_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `wlan_fact_open` ON `wlan_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `wlan_fact_from` ON `wlan_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `wlan_fact_until` ON `wlan_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `wlan_fact_device` ON `wlan_fact` (`device_id`);