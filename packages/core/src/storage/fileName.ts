import type { Recipe } from '@mellow/model';

/** The words a name may hold in braces, with what each stands for. */
export const nameWords = {
  game: 'title of the game',
  date: 'day, 2026-11-25',
  time: 'hour and minute, 21.10.05',
  kind: 'trial or take',
  number: 'its number',
  setup: 'name of the setup',
  recipe: 'number of the recipe',
  size: 'size of the file, 1920x1080',
} as const;
export type NameWord = keyof typeof nameWords;
export type NameValues = Record<NameWord, string>;

/** A name that can stand in any file system: letters, digits, spaces, dots and dashes; never empty, never a dot first. */
export function safeName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[^\p{Letter}\p{Number} ._-]+/gu, '')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 80);
  return plain || 'take';
}

/** Words in braces that a pattern uses and nobody knows. */
export const unknownNameWords = (pattern: string): string[] =>
  [...pattern.matchAll(/\{([^{}]*)\}/g)].map((match) => match[1] ?? '').filter((word) => !(word in nameWords));

/** A pattern without {number} gives two takes of one second the same name. */
export const namesAreApart = (pattern: string): boolean =>
  pattern.includes('{number}') || (pattern.includes('{date}') && pattern.includes('{time}'));

/** The name a pattern makes, without its suffix; safe for every file system. */
export const nameFrom = (pattern: string, values: NameValues): string =>
  safeName(
    pattern.replace(/\{([^{}]*)\}/g, (whole, word: string) => (word in values ? values[word as NameWord] : whole)),
  );

/** Folder below the drive's, empty for none. */
export function subfolderFrom(subfolder: Recipe['file']['subfolder'], values: NameValues): string {
  if (subfolder === 'none') return '';
  if (subfolder === 'setup') return safeName(values.setup);
  return subfolder === 'game' ? safeName(values.game) : `${safeName(values.game)}/${safeName(values.date)}`;
}
