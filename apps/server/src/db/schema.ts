import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

/** Documents are JSON text, checked by the model's schemas whenever they are read. */

export const setups = sqliteTable('setups', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  demo: integer('demo', { mode: 'boolean' }).notNull(),
  game: text('game').notNull(),
  brief: text('brief').notNull(),
  draft: text('draft').notNull(),
  start: text('start').notNull(),
  /** 'this', or the id of another machine. */
  machineId: text('machine_id').notNull().default('this'),
  /** What trials play in place of the source; null: nothing. */
  sample: text('sample'),
  /** How much is held at hand; null: nothing. */
  hindsight: text('hindsight'),
  /** The program that a full take begins and ends with; null: none. */
  withGame: text('with_game'),
  /** Settings that advice must not touch. */
  locks: text('locks').notNull().default('[]'),
  /** Earlier drafts, newest last. */
  undo: text('undo').notNull(),
  /** The highest number any trial has had; numbers are not used again. */
  takesNumbered: integer('takes_numbered').notNull().default(0),
  createdAt: text('created_at').notNull(),
});

export const recipeVersions = sqliteTable(
  'recipe_versions',
  {
    setupId: text('setup_id')
      .notNull()
      .references(() => setups.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    recipe: text('recipe').notNull(),
    createdAt: text('created_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.setupId, table.number] })],
);

export const takes = sqliteTable(
  'takes',
  {
    id: text('id').primaryKey(),
    setupId: text('setup_id')
      .notNull()
      .references(() => setups.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    state: text('state').notNull(),
    demo: integer('demo', { mode: 'boolean' }).notNull(),
    createdAt: text('created_at').notNull(),
    /** The whole take. */
    document: text('document').notNull(),
  },
  (table) => [index('takes_setup').on(table.setupId, table.number)],
);

export const drives = sqliteTable('drives', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  folder: text('folder').notNull(),
  quotaBytes: integer('quota_bytes'),
  writeBytesPerSecond: integer('write_bytes_per_second'),
  /** Name of the mark that lies in the folder; where it is missing, the drive itself is away. */
  mark: text('mark'),
  /** The speed was typed, and not measured. */
  speedTyped: integer('speed_typed', { mode: 'boolean' }).notNull().default(false),
  /** Tests, newest last. */
  tests: text('tests').notNull().default('[]'),
});

/** What is known of machines; this PC's own row is made when it is first proven. */
export const machines = sqliteTable('machines', {
  id: text('id').primaryKey(),
  document: text('document').notNull(),
});

export const settings = sqliteTable('settings', { key: text('key').primaryKey(), value: text('value').notNull() });
