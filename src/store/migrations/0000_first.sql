CREATE TABLE `address_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `address_fact_open` ON `address_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `address_fact_from` ON `address_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `address_fact_until` ON `address_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `address_fact_device` ON `address_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `attachment_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `attachment_fact_open` ON `attachment_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `attachment_fact_from` ON `attachment_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `attachment_fact_until` ON `attachment_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `attachment_fact_device` ON `attachment_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `audit` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`act` text NOT NULL,
	`subject` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `catalogue_release` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`vendor` text NOT NULL,
	`family` text NOT NULL,
	`release` text NOT NULL,
	`body` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `catalogue_release_name` ON `catalogue_release` (`vendor`,`family`,`release`);--> statement-breakpoint
CREATE TABLE `credential` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`position` integer NOT NULL,
	`shown` text NOT NULL,
	`sealed` blob NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `credential_name_unique` ON `credential` (`name`);--> statement-breakpoint
CREATE TABLE `device` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`first_survey` integer NOT NULL,
	`credential` text,
	FOREIGN KEY (`first_survey`) REFERENCES `survey`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `device_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `device_fact_open` ON `device_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `device_fact_from` ON `device_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `device_fact_until` ON `device_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `device_fact_device` ON `device_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `job` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`kind` text NOT NULL,
	`body` text NOT NULL,
	`state` text NOT NULL,
	`survey_id` integer,
	`cancel_requested` integer DEFAULT false NOT NULL,
	`worker_pid` integer,
	`error` text,
	`created_at` text NOT NULL,
	`ended_at` text
);
--> statement-breakpoint
CREATE TABLE `link_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `link_fact_open` ON `link_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `link_fact_from` ON `link_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `link_fact_until` ON `link_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `link_fact_device` ON `link_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `maker` (
	`prefix` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `module_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `module_fact_open` ON `module_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `module_fact_from` ON `module_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `module_fact_until` ON `module_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `module_fact_device` ON `module_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `neighbour_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `neighbour_fact_open` ON `neighbour_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `neighbour_fact_from` ON `neighbour_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `neighbour_fact_until` ON `neighbour_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `neighbour_fact_device` ON `neighbour_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `person` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`password_hash` text NOT NULL,
	`role` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `person_name_unique` ON `person` (`name`);--> statement-breakpoint
CREATE TABLE `port_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `port_fact_open` ON `port_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `port_fact_from` ON `port_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `port_fact_until` ON `port_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `port_fact_device` ON `port_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `port_kind_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `port_kind_fact_open` ON `port_kind_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `port_kind_fact_from` ON `port_kind_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `port_kind_fact_until` ON `port_kind_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `port_kind_fact_device` ON `port_kind_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `preference` (
	`person_id` integer NOT NULL,
	`key` text NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`person_id`, `key`),
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `scope` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`body` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `scope_name_unique` ON `scope` (`name`);--> statement-breakpoint
CREATE TABLE `setting` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `sighting` (
	`device_id` integer PRIMARY KEY NOT NULL,
	`survey_id` integer NOT NULL,
	`body` blob NOT NULL
);
--> statement-breakpoint
CREATE TABLE `survey` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`scope_name` text NOT NULL,
	`scope` text NOT NULL,
	`state` text NOT NULL,
	`started_at` text NOT NULL,
	`sealed_at` text,
	`asked` integer DEFAULT 0 NOT NULL,
	`phase` text DEFAULT 'probe' NOT NULL,
	`summary` text
);
--> statement-breakpoint
CREATE TABLE `target` (
	`vendor` text NOT NULL,
	`family` text NOT NULL,
	`release` text NOT NULL,
	`set_by` text NOT NULL,
	`set_at` text NOT NULL,
	PRIMARY KEY(`vendor`, `family`)
);
--> statement-breakpoint
CREATE TABLE `token` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`hash` text NOT NULL,
	`role` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `token_name_unique` ON `token` (`name`);--> statement-breakpoint
CREATE UNIQUE INDEX `token_hash_unique` ON `token` (`hash`);--> statement-breakpoint
CREATE TABLE `visit` (
	`survey_id` integer NOT NULL,
	`address` text NOT NULL,
	`seq` integer NOT NULL,
	`state` text NOT NULL,
	`outcome` text,
	`device_id` integer,
	`credential` text,
	`reason` text,
	`remedy` text,
	`missing` text,
	`phases` text,
	`seconds` integer,
	PRIMARY KEY(`survey_id`, `address`),
	FOREIGN KEY (`survey_id`) REFERENCES `survey`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `visit_seq` ON `visit` (`survey_id`,`seq`);--> statement-breakpoint
CREATE INDEX `visit_device` ON `visit` (`device_id`,`survey_id`);--> statement-breakpoint
CREATE TABLE `vlan_fact` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`hash` text NOT NULL,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `vlan_fact_open` ON `vlan_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `vlan_fact_from` ON `vlan_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `vlan_fact_until` ON `vlan_fact` (`until_survey`);--> statement-breakpoint
CREATE INDEX `vlan_fact_device` ON `vlan_fact` (`device_id`);--> statement-breakpoint
CREATE TABLE `volatile` (
	`device_id` integer NOT NULL,
	`survey_id` integer NOT NULL,
	`body` text NOT NULL,
	PRIMARY KEY(`device_id`, `survey_id`)
);
