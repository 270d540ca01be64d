import { existsSync, statSync } from 'node:fs';
import { extname, join } from 'node:path';
import type { PartFile } from '@mellow/model';
import { writeDurably } from '../files/durable';
import { ledgerNames } from '../files/ledgerNames';

const ending = extname(ledgerNames.partsList);
type Part = Pick<PartFile, 'path' | 'startUs'>;

/** A path that stands for several files, one after the other. */
export const isPartsList = (path: string): boolean => extname(path) === ending;

/**
 * Writes the list by which the media library reads parts as one file, each for as long as until the next begins. The list
 * says how large they are together, since it is small itself.
 * @returns its path. @throws in words where a part is not at its place
 */
export function writePartsList(folder: string, parts: readonly Part[]): string {
  const missing = parts.find(({ path }) => !existsSync(path));
  if (missing) throw new Error(`A part of the take is not at ${missing.path}; its drive may be away.`);
  const bytes = parts.reduce((sum, { path }) => sum + statSync(path).size, 0);
  const lines = parts.flatMap(({ path, startUs }, i) => {
    const next = parts[i + 1];
    const quoted = `file '${path.replaceAll("'", String.raw`'\''`)}'`;
    return next ? [quoted, `duration ${((next.startUs - startUs) / 1e6).toFixed(6)}`] : [quoted];
  });
  const list = join(folder, ledgerNames.partsList);
  writeDurably(list, ['ffconcat version 1.0', `# bytes ${bytes}`, ...lines, ''].join('\n'));
  return list;
}

/** Bytes of all parts of a list, as it says. */
export const listedBytes = (content: string): number => Number(/^# bytes (\d+)$/m.exec(content)?.[1] ?? 0);

/** The first part of a list, as it says; null where there is none. */
export const firstListed = (content: string): string | null =>
  /^file '(.*)'$/m.exec(content)?.[1]?.replaceAll(String.raw`'\''`, "'") ?? null;
