ALTER TABLE `drives` ADD `mark` text;--> statement-breakpoint
ALTER TABLE `setups` ADD `takes_numbered` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `setups` SET `takes_numbered` = coalesce((SELECT max(`number`) FROM `takes` WHERE `takes`.`setup_id` = `setups`.`id`), 0);--> statement-breakpoint
UPDATE `setups` SET `draft` = json_set(`draft`, '$.source', json('{"kind":"practice"}')), `start` = json_set(`start`, '$.source', json('{"kind":"practice"}')) WHERE json_valid(`draft`) AND json_valid(`start`);--> statement-breakpoint
UPDATE `recipe_versions` SET `recipe` = json_set(`recipe`, '$.source', json('{"kind":"practice"}')) WHERE json_valid(`recipe`);--> statement-breakpoint
UPDATE `takes` SET `document` = json_set(`document`, '$.source', json('{"kind":"practice"}'), '$.recipe.source', json('{"kind":"practice"}')) WHERE json_valid(`document`);--> statement-breakpoint
UPDATE `takes` SET `document` = json_set(`document`, '$.files', json_array(json_object('role', 'take', 'path', json_extract(`document`, '$.filePath'), 'identity', NULL, 'bytes', json_extract(`document`, '$.facts.bytes')))) WHERE json_valid(`document`) AND json_extract(`document`, '$.filePath') <> '' AND json_extract(`document`, '$.files') IS NULL;--> statement-breakpoint
UPDATE `takes` SET `document` = json_insert(`document`, '$.files[#]', json_object('role', 'copy', 'path', json_extract(`document`, '$.rewrappedPath'), 'identity', NULL, 'bytes', NULL)) WHERE json_valid(`document`) AND coalesce(json_extract(`document`, '$.rewrappedPath'), '') <> '';--> statement-breakpoint
UPDATE `takes` SET `document` = json_remove(`document`, '$.rewrappedPath') WHERE json_valid(`document`);
