INSERT INTO `release_target` (`key`, `body`)
SELECT `vendor` || char(9) || `family` || char(9) || `group_name`,
	json_object('vendor', `vendor`, 'family', `family`, 'release', `release`, 'group', `group_name`, 'setBy', `set_by`, 'setAt', `set_at`)
FROM `target`;
--> statement-breakpoint
DROP TABLE `target`;
