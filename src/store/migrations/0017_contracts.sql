CREATE TABLE `contract` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`number` text NOT NULL,
	`kind` text NOT NULL,
	`supplier` text NOT NULL,
	`level` text NOT NULL,
	`contact` text NOT NULL,
	`from_day` text,
	`until_day` text,
	`parts` integer NOT NULL,
	`note` text NOT NULL,
	`serials` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `contract_number` ON `contract` (lower("number"));--> statement-breakpoint
CREATE TABLE `contract_change` (
	`edit_id` integer NOT NULL,
	`contract_id` integer NOT NULL,
	`before` text,
	`after` text,
	PRIMARY KEY(`edit_id`, `contract_id`),
	FOREIGN KEY (`edit_id`) REFERENCES `contract_edit`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `contract_change_contract` ON `contract_change` (`contract_id`);--> statement-breakpoint
CREATE TABLE `contract_edit` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`words` text NOT NULL,
	`undone_by` integer
);
