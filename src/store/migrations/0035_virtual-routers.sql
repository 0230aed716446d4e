CREATE TABLE `virtual_router_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `virtual_router_fact_open` ON `virtual_router_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `virtual_router_fact_from` ON `virtual_router_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `virtual_router_fact_until` ON `virtual_router_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `virtual_router_fact_closed` ON `virtual_router_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;