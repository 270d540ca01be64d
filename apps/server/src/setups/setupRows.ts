import { asc, eq } from 'drizzle-orm';
import { z } from 'zod';
import { recipeSchema, setupSchema, type BrokenSetup, type Recipe, type Setup } from '@mellow/model';
import type { Store } from '../db/openStore';
import { recipeVersions, setups } from '../db/schema';
import { problem } from '../errors/problem';

export type SetupRow = typeof setups.$inferSelect;
type Versions = (typeof recipeVersions.$inferSelect)[];

const recipeListSchema = z.array(recipeSchema);

/** Recipes that a draft can go back to, oldest first. */
export const undoOf = (row: SetupRow): Recipe[] => recipeListSchema.parse(JSON.parse(row.undo));

const jsonOrNull = (text: string | null): unknown => (text === null ? null : JSON.parse(text));

const toSetup = (row: SetupRow, versions: Versions): Setup =>
  setupSchema.parse({
    id: row.id,
    name: row.name,
    demo: row.demo,
    game: JSON.parse(row.game),
    brief: JSON.parse(row.brief),
    draft: JSON.parse(row.draft),
    start: JSON.parse(row.start),
    machineId: row.machineId,
    sample: jsonOrNull(row.sample),
    hindsight: jsonOrNull(row.hindsight),
    withGame: jsonOrNull(row.withGame),
    locks: JSON.parse(row.locks),
    undoDepth: undoOf(row).length,
    createdAt: row.createdAt,
    versions: versions
      .filter((v) => v.setupId === row.id)
      .map((v) => ({ number: v.number, recipe: JSON.parse(v.recipe), createdAt: v.createdAt })),
  });

/** A row that cannot be read is told, and keeps nobody from the others. */
function readable(row: SetupRow, versions: Versions): Setup | string {
  try {
    return toSetup(row, versions);
  } catch (error) {
    return error instanceof SyntaxError ? 'its row is no JSON' : 'its row does not fit this version';
  }
}

/** Setups as they stand in the database. */
export interface SetupRows {
  /** @throws a problem where there is none */
  row(id: string): Promise<SetupRow>;
  /** @throws a problem where there is none, or it cannot be read */
  get(id: string): Promise<Setup>;
  list(): Promise<Setup[]>;
  broken(): Promise<BrokenSetup[]>;
}

export function createSetupRows(store: Store): SetupRows {
  const versionsOf = () => store.db.select().from(recipeVersions).orderBy(asc(recipeVersions.number));
  const all = () => store.db.select().from(setups).orderBy(asc(setups.createdAt));
  async function row(id: string): Promise<SetupRow> {
    const found = (await store.db.select().from(setups).where(eq(setups.id, id)))[0];
    if (!found)
      throw problem(
        'not-found',
        `There is no setup "${id}". It may have been removed; the list of setups shows those there are.`,
      );
    return found;
  }
  return {
    row,
    async get(id) {
      const setup = readable(await row(id), await versionsOf());
      if (typeof setup === 'string')
        throw problem(
          'setup-unreadable',
          `This setup cannot be read: ${setup}. Its takes are still there; deleting the setup takes them along.`,
        );
      return setup;
    },
    async list() {
      const versions = await versionsOf();
      return (await all())
        .map((one) => readable(one, versions))
        .filter((setup): setup is Setup => typeof setup !== 'string');
    },
    async broken() {
      const versions = await versionsOf();
      return (await all()).flatMap((one) => {
        const why = readable(one, versions);
        return typeof why === 'string' ? [{ id: one.id, name: one.name, createdAt: one.createdAt, why }] : [];
      });
    },
  };
}
