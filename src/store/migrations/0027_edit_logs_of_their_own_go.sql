DROP TABLE `contract_change`;--> statement-breakpoint
DROP TABLE `contract_edit`;--> statement-breakpoint
DROP TABLE `outlet_edit`;--> statement-breakpoint
DROP TABLE `own_change`;--> statement-breakpoint
DROP TABLE `own_edit`;