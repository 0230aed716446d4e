ALTER TABLE `token` ADD `expires_on` text;--> statement-breakpoint
ALTER TABLE `token` ADD `used_at` text;