CREATE TABLE `floor_plan` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`site` text NOT NULL,
	`name` text NOT NULL,
	`media_type` text NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`picture` blob NOT NULL,
	`layout` text NOT NULL,
	`revision` integer NOT NULL,
	`changed_at` text NOT NULL,
	`changed_by` text NOT NULL,
	`deleted_at` text
);
--> statement-breakpoint
CREATE TABLE `outlet` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`site` text NOT NULL,
	`label` text NOT NULL,
	`room` text NOT NULL,
	`panel` text NOT NULL,
	`position` text NOT NULL,
	`port` text,
	`note` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `outlet_label` ON `outlet` (lower("site"),lower("label"));--> statement-breakpoint
CREATE TABLE `outlet_edit` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`words` text NOT NULL,
	`changes` text NOT NULL,
	`undone_by` integer
);
