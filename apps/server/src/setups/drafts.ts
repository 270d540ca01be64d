import { recipeSchema, type Recipe, type RecipeVersion, type Setup } from '@mellow/model';
import { recipeVersions } from '../db/schema';
import { problem } from '../errors/problem';
import type { SetupDesk } from './setupDesk';
import { undoOf } from './setupRows';

const undoKept = 50;

/** Makes a recipe the draft; the one before can be gone back to. */
export async function setDraft({ rows, update }: SetupDesk, id: string, recipe: Recipe): Promise<Setup> {
  const row = await rows.row(id);
  if (row.draft === JSON.stringify(recipe)) return rows.get(id);
  const undo = [...undoOf(row), recipeSchema.parse(JSON.parse(row.draft))].slice(-undoKept);
  return update(id, { draft: JSON.stringify(recipe), undo: JSON.stringify(undo) });
}

/** @throws a problem where nothing is left to undo */
export async function undoDraft({ rows, update }: SetupDesk, id: string): Promise<Setup> {
  const undo = undoOf(await rows.row(id));
  const before = undo.pop();
  if (!before) throw problem('bad-request', 'Nothing is left to undo in this recipe.');
  return update(id, { draft: JSON.stringify(before), undo: JSON.stringify(undo) });
}

/** The draft's number: that of the last version if nothing changed, otherwise a new one. */
export async function versionOfDraft({ rows, store }: SetupDesk, id: string): Promise<RecipeVersion> {
  const { versions, draft } = await rows.get(id);
  const same = versions.filter((v) => JSON.stringify(v.recipe) === JSON.stringify(draft)).pop();
  if (same) return same;
  const number = (versions.at(-1)?.number ?? 0) + 1;
  const version: RecipeVersion = { number, recipe: draft, createdAt: new Date().toISOString() };
  const row = { setupId: id, number, recipe: JSON.stringify(draft), createdAt: version.createdAt };
  await store.write((db) => db.insert(recipeVersions).values(row));
  return version;
}
