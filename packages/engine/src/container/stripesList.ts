import { existsSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import { z } from 'zod';
import { stripeLayoutSchema, type StripeLayout } from '@mellow/model';
import { writeDurably } from '../files/durable';
import { openStripedReading, type StripedReading } from '../files/stripedReading';
import { ledgerNames } from '../files/ledgerNames';

const listSchema = stripeLayoutSchema.extend({ paths: z.array(z.string()).min(1) });
const ending = extname(ledgerNames.stripesList);

/** A path that stands for several files whose blocks are one file. */
export const isStripesList = (path: string): boolean => extname(path) === ending;

/** Writes the list by which stripes are read as one file. @returns its path. @throws in words where one is not at its place */
export function writeStripesList(
  folder: string,
  { blockBytes, pattern }: StripeLayout,
  paths: readonly string[],
): string {
  const missing = paths.find((path) => !existsSync(path));
  if (missing) throw new Error(`A stripe of the take is not at ${missing}; its drive may be away.`);
  const list = join(folder, ledgerNames.stripesList);
  writeDurably(list, JSON.stringify({ blockBytes, pattern, paths }));
  return list;
}

const readList = (list: string): z.infer<typeof listSchema> => listSchema.parse(JSON.parse(readFileSync(list, 'utf8')));

/** Opens what a list names. @throws where one cannot be opened */
export function openStripes(list: string): StripedReading {
  const { paths, ...layout } = readList(list);
  return openStripedReading(layout, paths);
}

/** The kind of file that the stripes are together, by its ending. */
export const endingOfStripes = (list: string): string => extname(readList(list).paths[0] ?? '');
