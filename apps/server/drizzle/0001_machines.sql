CREATE TABLE `machines` (
	`id` text PRIMARY KEY NOT NULL,
	`document` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `setups` ADD `machine_id` text DEFAULT 'this' NOT NULL;--> statement-breakpoint
ALTER TABLE `setups` ADD `locks` text DEFAULT '[]' NOT NULL;