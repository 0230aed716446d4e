CREATE TABLE `fabric_endpoint_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `fabric_endpoint_fact_open` ON `fabric_endpoint_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `fabric_endpoint_fact_from` ON `fabric_endpoint_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `fabric_endpoint_fact_until` ON `fabric_endpoint_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `fabric_endpoint_fact_closed` ON `fabric_endpoint_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `fabric_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `fabric_fact_open` ON `fabric_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `fabric_fact_from` ON `fabric_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `fabric_fact_until` ON `fabric_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `fabric_fact_closed` ON `fabric_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `host_network_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `host_network_fact_open` ON `host_network_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `host_network_fact_from` ON `host_network_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `host_network_fact_until` ON `host_network_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `host_network_fact_closed` ON `host_network_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `told_link_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `told_link_fact_open` ON `told_link_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `told_link_fact_from` ON `told_link_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `told_link_fact_until` ON `told_link_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `told_link_fact_closed` ON `told_link_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;