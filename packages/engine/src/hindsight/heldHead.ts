import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { recipeSchema, type Recipe } from '@mellow/model';
import { writeDurably } from '../files/durable';

const headPath = (folder: string): string => join(folder, 'head.json');

/** Says beside the pieces on the drive what they were recorded with. */
export const writeHead = (folder: string, recipe: Recipe): void =>
  writeDurably(headPath(folder), JSON.stringify(recipe));

/** The recipe that pieces on the drive were made with. @throws in words where they do not say it */
export function heldRecipe(folder: string): Recipe {
  if (!existsSync(headPath(folder))) throw new Error('It does not say what was recorded.');
  return recipeSchema.parse(JSON.parse(readFileSync(headPath(folder), 'utf8')));
}
