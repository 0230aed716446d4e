CREATE TABLE `learned_route_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `learned_route_fact_open` ON `learned_route_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `learned_route_fact_from` ON `learned_route_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `learned_route_fact_until` ON `learned_route_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `learned_route_fact_closed` ON `learned_route_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;