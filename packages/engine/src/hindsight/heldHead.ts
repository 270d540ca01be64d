import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { recipeSchema, type Recipe } from '@mellow/model';
import { z } from 'zod';
import { writeDurably } from '../files/durable';

const headPath = (folder: string): string => join(folder, 'head.json');
const letGoPath = (folder: string): string => join(folder, 'let-go');
/** The first version kept the recipe alone. */
const headSchema = z.union([
  z.object({ recipe: recipeSchema, owner: z.string() }),
  recipeSchema.transform((recipe) => ({ recipe, owner: '' })),
]);

/** Says beside the pieces on the drive what they were recorded with, and at which address their recorder answers. */
export const writeHead = (folder: string, recipe: Recipe, owner: string): void =>
  writeDurably(headPath(folder), JSON.stringify({ recipe, owner }));

const headOf = (folder: string): z.infer<typeof headSchema> =>
  headSchema.parse(JSON.parse(readFileSync(headPath(folder), 'utf8')));

/** The recipe that pieces on the drive were made with. @throws in words where they do not say it */
export function heldRecipe(folder: string): Recipe {
  if (!existsSync(headPath(folder))) throw new Error('It does not say what was recorded.');
  return headOf(folder).recipe;
}

/** Address of the recorder that pieces on the drive belong to; empty where it is not known. */
export function heldOwner(folder: string): string {
  try {
    return headOf(folder).owner;
  } catch {
    return '';
  }
}

/** Notes that a person has let go of what is held: whatever dies before it is removed, nobody makes a clip of it. */
export function noteLetGo(folder: string): void {
  if (existsSync(folder)) writeFileSync(letGoPath(folder), '');
}

export const wasLetGo = (folder: string): boolean => existsSync(letGoPath(folder));
