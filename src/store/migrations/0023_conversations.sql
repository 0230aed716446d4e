CREATE TABLE `conversation_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `conversation_fact_open` ON `conversation_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `conversation_fact_from` ON `conversation_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `conversation_fact_until` ON `conversation_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `conversation_fact_closed` ON `conversation_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;