import type { NameWord, Recipe, TakeName } from '@mellow/model';

/** What each word of a name stands for. */
export const nameWordMeanings: Record<NameWord, string> = {
  setup: 'name of the setup',
  kind: 'trial or take',
  number: 'its number',
  game: 'title of the game',
  day: 'day, 2026-11-25',
  time: 'hour and minute, 21.10.05',
  recipe: 'number of the recipe',
  size: 'size of the file, 1920x1080',
};
export type NameValues = Record<NameWord, string>;

const longestName = 80;
/** Names that Windows keeps for devices, with any ending (documentation of its file names; from memory). */
const reserved = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;

/** A name that can stand in any file system: letters, digits, spaces, dots and dashes; never empty, never a dot first. */
export function safeName(text: string): string {
  const plain = [
    ...text
      .normalize('NFKD')
      .replace(/[^\p{Letter}\p{Number} ._-]+/gu, '')
      .replace(/\s+/g, ' '),
  ]
    // By whole signs, so that none is cut in half.
    .slice(0, longestName)
    .join('')
    .replace(/^[. ]+|[. ]+$/g, '');
  if (!plain) return 'take';
  return reserved.test(plain) ? `${plain} take` : plain;
}

/** The name its parts make, without its suffix; safe for every file system. A name that is taken gets a number when it is used. */
export const nameFrom = (name: TakeName, values: NameValues): string =>
  safeName(name.map((part) => ('word' in part ? values[part.word] : part.text)).join(' '));

/** A name in words, for lists: "setup, kind, number". */
export const nameInWords = (name: TakeName): string =>
  name.map((part) => ('word' in part ? part.word : `“${part.text}”`)).join(', ');

/** Folder below the drive's, empty for none. */
export function subfolderFrom(subfolder: Recipe['file']['subfolder'], values: NameValues): string {
  switch (subfolder) {
    case 'none':
      return '';
    case 'day':
      return safeName(values.day);
    case 'setup':
      return safeName(values.setup);
    case 'game':
      return safeName(values.game);
    case 'game-day':
      return `${safeName(values.game)}/${safeName(values.day)}`;
  }
}
