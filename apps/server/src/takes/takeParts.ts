import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';
import { ledgerNames, writePartsList, writeStripesList } from '@mellow/engine';
import { partFileSchema, partsOf, type Drive, type PartFile, type Take, type TakeFile } from '@mellow/model';

/** The path by which a take is read as one: its file, or a list of its parts or stripes. @throws in words where a part is away */
export function readableOf(take: Pick<Take, 'files' | 'filePath' | 'stripes'>, folder: string): string {
  const parts = partsOf(take);
  if (take.stripes)
    return writeStripesList(
      folder,
      take.stripes,
      parts.map(({ path }) => path),
    );
  if (parts.length < 2) return take.filePath;
  return writePartsList(
    folder,
    parts.map(({ path, startUs }) => ({ path, startUs: startUs ?? 0 })),
  );
}

/** Parts as the recorder wrote them down before each got its first byte; none where the take is one file, or nobody can read it. */
export function partsWrittenDown(folder: string): PartFile[] {
  const path = join(folder, ledgerNames.parts);
  if (!existsSync(path)) return [];
  try {
    return z.array(partFileSchema).parse(JSON.parse(readFileSync(path, 'utf8')));
  } catch {
    // What the take knows of by itself is rescued all the same.
    return [];
  }
}

/** The take's files with parts that were begun; what is known of a file already stays. */
export function withParts(
  take: Pick<Take, 'files'>,
  parts: readonly PartFile[],
  drives: readonly Pick<Drive, 'id' | 'folder'>[],
): TakeFile[] {
  const known = new Map(take.files.map((file) => [file.path, file]));
  const added = parts
    .filter(({ path }) => !known.has(path))
    .map(({ path, identity, startUs }): TakeFile => {
      const driveId = driveOf(path, drives);
      return { role: 'take', path, identity, bytes: null, startUs, ...(driveId ? { driveId } : {}) };
    });
  return [...take.files, ...added];
}

/** The drive whose folder a path lies in; the innermost of several. */
function driveOf(path: string, drives: readonly Pick<Drive, 'id' | 'folder'>[]): string | undefined {
  return drives
    .filter(({ folder }) => path.startsWith(join(folder, '/')))
    .sort((a, b) => b.folder.length - a.folder.length)[0]?.id;
}
