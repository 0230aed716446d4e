CREATE TABLE `own_change` (
	`edit_id` integer NOT NULL,
	`row_id` text NOT NULL,
	`field` text NOT NULL,
	`before` text,
	`after` text,
	PRIMARY KEY(`edit_id`, `row_id`, `field`),
	FOREIGN KEY (`edit_id`) REFERENCES `own_edit`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `own_change_row` ON `own_change` (`row_id`);--> statement-breakpoint
CREATE TABLE `own_edit` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`thing` text NOT NULL,
	`words` text NOT NULL,
	`undone_by` integer
);
--> statement-breakpoint
CREATE TABLE `own_field` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`thing` text NOT NULL,
	`name` text NOT NULL,
	`label` text NOT NULL,
	`kind` text NOT NULL,
	`choices` text NOT NULL,
	`removed_at` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `own_field_name` ON `own_field` (`thing`,`name`);--> statement-breakpoint
CREATE TABLE `own_value` (
	`thing` text NOT NULL,
	`row_id` text NOT NULL,
	`field` text NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`thing`, `field`, `row_id`)
);
--> statement-breakpoint
CREATE INDEX `own_value_row` ON `own_value` (`thing`,`row_id`);--> statement-breakpoint
INSERT INTO `own_field` (`thing`, `name`, `label`, `kind`, `choices`) VALUES
	('devices', 'owner', 'Owner', 'text', '[]'),
	('devices', 'assetNumber', 'Asset number', 'text', '[]'),
	('devices', 'tags', 'Tags', 'tags', '[]'),
	('devices', 'notes', 'Notes', 'note', '[]'),
	('ports', 'notes', 'Notes', 'note', '[]'),
	('endpoints', 'owner', 'Owner', 'text', '[]'),
	('endpoints', 'notes', 'Notes', 'note', '[]');
