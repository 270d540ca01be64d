CREATE TABLE `drives` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`folder` text NOT NULL,
	`quota_bytes` integer,
	`write_bytes_per_second` integer
);
--> statement-breakpoint
CREATE TABLE `recipe_versions` (
	`setup_id` text NOT NULL,
	`number` integer NOT NULL,
	`recipe` text NOT NULL,
	`created_at` text NOT NULL,
	PRIMARY KEY(`setup_id`, `number`),
	FOREIGN KEY (`setup_id`) REFERENCES `setups`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `settings` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `setups` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`demo` integer NOT NULL,
	`game` text NOT NULL,
	`brief` text NOT NULL,
	`draft` text NOT NULL,
	`start` text NOT NULL,
	`undo` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `takes` (
	`id` text PRIMARY KEY NOT NULL,
	`setup_id` text NOT NULL,
	`number` integer NOT NULL,
	`state` text NOT NULL,
	`demo` integer NOT NULL,
	`created_at` text NOT NULL,
	`document` text NOT NULL,
	FOREIGN KEY (`setup_id`) REFERENCES `setups`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `takes_setup` ON `takes` (`setup_id`,`number`);