ALTER TABLE `drives` ADD `speed_typed` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `drives` ADD `tests` text DEFAULT '[]' NOT NULL;