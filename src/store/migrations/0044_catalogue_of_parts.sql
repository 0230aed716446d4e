DROP INDEX `catalogue_release_name`;--> statement-breakpoint
ALTER TABLE `catalogue_release` ADD `component` text DEFAULT 'system' NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `catalogue_release_named` ON `catalogue_release` (`vendor`,`family`,`component`,`release`);