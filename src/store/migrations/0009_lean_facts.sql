PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_address_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_address_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `address_fact`;--> statement-breakpoint
DROP TABLE `address_fact`;--> statement-breakpoint
ALTER TABLE `__new_address_fact` RENAME TO `address_fact`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `address_fact_open` ON `address_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `address_fact_from` ON `address_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `address_fact_until` ON `address_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `address_fact_closed` ON `address_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_attachment_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_attachment_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `attachment_fact`;--> statement-breakpoint
DROP TABLE `attachment_fact`;--> statement-breakpoint
ALTER TABLE `__new_attachment_fact` RENAME TO `attachment_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `attachment_fact_open` ON `attachment_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `attachment_fact_from` ON `attachment_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `attachment_fact_until` ON `attachment_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `attachment_fact_closed` ON `attachment_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_device_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_device_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `device_fact`;--> statement-breakpoint
DROP TABLE `device_fact`;--> statement-breakpoint
ALTER TABLE `__new_device_fact` RENAME TO `device_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `device_fact_open` ON `device_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `device_fact_from` ON `device_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `device_fact_until` ON `device_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `device_fact_closed` ON `device_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_fault_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_fault_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `fault_fact`;--> statement-breakpoint
DROP TABLE `fault_fact`;--> statement-breakpoint
ALTER TABLE `__new_fault_fact` RENAME TO `fault_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `fault_fact_open` ON `fault_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `fault_fact_from` ON `fault_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `fault_fact_until` ON `fault_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `fault_fact_closed` ON `fault_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_link_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_link_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `link_fact`;--> statement-breakpoint
DROP TABLE `link_fact`;--> statement-breakpoint
ALTER TABLE `__new_link_fact` RENAME TO `link_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `link_fact_open` ON `link_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `link_fact_from` ON `link_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `link_fact_until` ON `link_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `link_fact_closed` ON `link_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_machine_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_machine_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `machine_fact`;--> statement-breakpoint
DROP TABLE `machine_fact`;--> statement-breakpoint
ALTER TABLE `__new_machine_fact` RENAME TO `machine_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `machine_fact_open` ON `machine_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `machine_fact_from` ON `machine_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `machine_fact_until` ON `machine_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `machine_fact_closed` ON `machine_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_module_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_module_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `module_fact`;--> statement-breakpoint
DROP TABLE `module_fact`;--> statement-breakpoint
ALTER TABLE `__new_module_fact` RENAME TO `module_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `module_fact_open` ON `module_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `module_fact_from` ON `module_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `module_fact_until` ON `module_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `module_fact_closed` ON `module_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_neighbour_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_neighbour_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `neighbour_fact`;--> statement-breakpoint
DROP TABLE `neighbour_fact`;--> statement-breakpoint
ALTER TABLE `__new_neighbour_fact` RENAME TO `neighbour_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `neighbour_fact_open` ON `neighbour_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `neighbour_fact_from` ON `neighbour_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `neighbour_fact_until` ON `neighbour_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `neighbour_fact_closed` ON `neighbour_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_peer_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_peer_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `peer_fact`;--> statement-breakpoint
DROP TABLE `peer_fact`;--> statement-breakpoint
ALTER TABLE `__new_peer_fact` RENAME TO `peer_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `peer_fact_open` ON `peer_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `peer_fact_from` ON `peer_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `peer_fact_until` ON `peer_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `peer_fact_closed` ON `peer_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_port_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_port_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `port_fact`;--> statement-breakpoint
DROP TABLE `port_fact`;--> statement-breakpoint
ALTER TABLE `__new_port_fact` RENAME TO `port_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `port_fact_open` ON `port_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `port_fact_from` ON `port_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `port_fact_until` ON `port_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `port_fact_closed` ON `port_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_port_kind_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_port_kind_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `port_kind_fact`;--> statement-breakpoint
DROP TABLE `port_kind_fact`;--> statement-breakpoint
ALTER TABLE `__new_port_kind_fact` RENAME TO `port_kind_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `port_kind_fact_open` ON `port_kind_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `port_kind_fact_from` ON `port_kind_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `port_kind_fact_until` ON `port_kind_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `port_kind_fact_closed` ON `port_kind_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_route_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_route_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `route_fact`;--> statement-breakpoint
DROP TABLE `route_fact`;--> statement-breakpoint
ALTER TABLE `__new_route_fact` RENAME TO `route_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `route_fact_open` ON `route_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `route_fact_from` ON `route_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `route_fact_until` ON `route_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `route_fact_closed` ON `route_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_service_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_service_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `service_fact`;--> statement-breakpoint
DROP TABLE `service_fact`;--> statement-breakpoint
ALTER TABLE `__new_service_fact` RENAME TO `service_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `service_fact_open` ON `service_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `service_fact_from` ON `service_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `service_fact_until` ON `service_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `service_fact_closed` ON `service_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_software_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_software_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `software_fact`;--> statement-breakpoint
DROP TABLE `software_fact`;--> statement-breakpoint
ALTER TABLE `__new_software_fact` RENAME TO `software_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `software_fact_open` ON `software_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `software_fact_from` ON `software_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `software_fact_until` ON `software_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `software_fact_closed` ON `software_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_vlan_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_vlan_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `vlan_fact`;--> statement-breakpoint
DROP TABLE `vlan_fact`;--> statement-breakpoint
ALTER TABLE `__new_vlan_fact` RENAME TO `vlan_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `vlan_fact_open` ON `vlan_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `vlan_fact_from` ON `vlan_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `vlan_fact_until` ON `vlan_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `vlan_fact_closed` ON `vlan_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE TABLE `__new_wlan_fact` (
	`id` integer PRIMARY KEY NOT NULL,
	`device_id` integer NOT NULL,
	`key` text NOT NULL,
	`from_survey` integer NOT NULL,
	`until_survey` integer,
	`content` text NOT NULL
);
--> statement-breakpoint
INSERT INTO `__new_wlan_fact`("id", "device_id", "key", "from_survey", "until_survey", "content") SELECT "id", "device_id", "key", "from_survey", "until_survey", "content" FROM `wlan_fact`;--> statement-breakpoint
DROP TABLE `wlan_fact`;--> statement-breakpoint
ALTER TABLE `__new_wlan_fact` RENAME TO `wlan_fact`;--> statement-breakpoint
CREATE UNIQUE INDEX `wlan_fact_open` ON `wlan_fact` (`device_id`,`key`) WHERE until_survey is null;--> statement-breakpoint
CREATE INDEX `wlan_fact_from` ON `wlan_fact` (`from_survey`);--> statement-breakpoint
CREATE INDEX `wlan_fact_until` ON `wlan_fact` (`until_survey`) WHERE until_survey is not null;--> statement-breakpoint
CREATE INDEX `wlan_fact_closed` ON `wlan_fact` (`device_id`,`until_survey`) WHERE until_survey is not null;