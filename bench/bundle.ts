import { fileURLToPath } from 'node:url';
import { bundle } from '../scripts/bundle-engine.mjs';

/** Puts a bench and what it imports into one file, as the engine is built; returns where it lies. */
export async function bundled(name: string): Promise<string> {
  await bundle({ [name]: `bench/${name}.ts` });
  return fileURLToPath(new URL(`../packages/engine/build/${name}.mjs`, import.meta.url));
}
