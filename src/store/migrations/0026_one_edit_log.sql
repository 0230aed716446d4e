CREATE TABLE `edit` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` text NOT NULL,
	`who` text NOT NULL,
	`kind` text NOT NULL,
	`act` text NOT NULL,
	`words` text NOT NULL,
	`undone_by` integer
);
--> statement-breakpoint
CREATE INDEX `edit_kind` ON `edit` (`kind`,`id`);--> statement-breakpoint
CREATE TABLE `edit_change` (
	`edit_id` integer NOT NULL,
	`key` text NOT NULL,
	`field` text NOT NULL,
	`before` text,
	`after` text,
	PRIMARY KEY(`edit_id`, `key`, `field`),
	FOREIGN KEY (`edit_id`) REFERENCES `edit`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `edit_change_key` ON `edit_change` (`key`);--> statement-breakpoint
CREATE TABLE `edit_moved` AS SELECT source, old, row_number() OVER (ORDER BY at, source, old) AS new FROM (
	SELECT 'contracts' AS source, id AS old, at FROM `contract_edit`
	UNION ALL SELECT 'outlets', id, at FROM `outlet_edit`
	UNION ALL SELECT 'own', id, at FROM `own_edit`
);--> statement-breakpoint
INSERT INTO `edit` (`id`, `at`, `who`, `kind`, `act`, `words`, `undone_by`) SELECT m.new, e.at, e.who, 'contracts', 'wrote contracts', e.words, u.new
	FROM `contract_edit` e JOIN `edit_moved` m ON m.source = 'contracts' AND m.old = e.id LEFT JOIN `edit_moved` u ON u.source = 'contracts' AND u.old = e.undone_by;--> statement-breakpoint
INSERT INTO `edit` (`id`, `at`, `who`, `kind`, `act`, `words`, `undone_by`) SELECT m.new, e.at, e.who, 'outlets', 'wrote outlets', e.words, u.new
	FROM `outlet_edit` e JOIN `edit_moved` m ON m.source = 'outlets' AND m.old = e.id LEFT JOIN `edit_moved` u ON u.source = 'outlets' AND u.old = e.undone_by;--> statement-breakpoint
INSERT INTO `edit` (`id`, `at`, `who`, `kind`, `act`, `words`, `undone_by`) SELECT m.new, e.at, e.who, e.thing, 'wrote own fields', e.words, u.new
	FROM `own_edit` e JOIN `edit_moved` m ON m.source = 'own' AND m.old = e.id LEFT JOIN `edit_moved` u ON u.source = 'own' AND u.old = e.undone_by;--> statement-breakpoint
INSERT INTO `edit_change` SELECT m.new, c.contract_id, '', c.before, c.after
	FROM `contract_change` c JOIN `edit_moved` m ON m.source = 'contracts' AND m.old = c.edit_id;--> statement-breakpoint
INSERT OR IGNORE INTO `edit_change` SELECT m.new, json_extract(c.value, '$.id'), '', json_extract(c.value, '$.before'), json_extract(c.value, '$.after')
	FROM `outlet_edit` e JOIN `edit_moved` m ON m.source = 'outlets' AND m.old = e.id JOIN json_each(e.changes) c;--> statement-breakpoint
INSERT INTO `edit_change` SELECT m.new, c.row_id, c.field, c.before, c.after
	FROM `own_change` c JOIN `edit_moved` m ON m.source = 'own' AND m.old = c.edit_id;--> statement-breakpoint
DROP TABLE `edit_moved`;
