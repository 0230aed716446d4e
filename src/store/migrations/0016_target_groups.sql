PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_target` (
	`vendor` text NOT NULL,
	`family` text NOT NULL,
	`release` text NOT NULL,
	`set_by` text NOT NULL,
	`set_at` text NOT NULL,
	`group_name` text DEFAULT '' NOT NULL,
	PRIMARY KEY(`vendor`, `family`, `group_name`)
);
--> statement-breakpoint
INSERT INTO `__new_target`("vendor", "family", "release", "set_by", "set_at", "group_name") SELECT "vendor", "family", "release", "set_by", "set_at", '' FROM `target`;--> statement-breakpoint
DROP TABLE `target`;--> statement-breakpoint
ALTER TABLE `__new_target` RENAME TO `target`;--> statement-breakpoint
PRAGMA foreign_keys=ON;