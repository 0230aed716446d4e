DROP INDEX `address_fact_until`;--> statement-breakpoint
CREATE INDEX `address_fact_until` ON `address_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `attachment_fact_until`;--> statement-breakpoint
CREATE INDEX `attachment_fact_until` ON `attachment_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `device_fact_until`;--> statement-breakpoint
CREATE INDEX `device_fact_until` ON `device_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `link_fact_until`;--> statement-breakpoint
CREATE INDEX `link_fact_until` ON `link_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `module_fact_until`;--> statement-breakpoint
CREATE INDEX `module_fact_until` ON `module_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `neighbour_fact_until`;--> statement-breakpoint
CREATE INDEX `neighbour_fact_until` ON `neighbour_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `port_fact_until`;--> statement-breakpoint
CREATE INDEX `port_fact_until` ON `port_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `port_kind_fact_until`;--> statement-breakpoint
CREATE INDEX `port_kind_fact_until` ON `port_kind_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
DROP INDEX `vlan_fact_until`;--> statement-breakpoint
CREATE INDEX `vlan_fact_until` ON `vlan_fact` (`until_survey`) WHERE until_survey is not null;