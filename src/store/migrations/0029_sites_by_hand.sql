CREATE TABLE `device_site` (
	`device_id` integer PRIMARY KEY NOT NULL,
	`site` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `setting` (`key`, `value`) SELECT 'siteRules', '[{"of":"name","pattern":"{site 2-4}-*","site":""}]'
	WHERE EXISTS (SELECT 1 FROM `survey`) AND NOT EXISTS (SELECT 1 FROM `setting` WHERE `key` = 'siteRules');
