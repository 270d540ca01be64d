import { z } from 'zod';

/** What a name may be put together from, besides words of one's own. */
export const nameWords = ['setup', 'kind', 'number', 'game', 'day', 'time', 'recipe', 'size'] as const;
export const nameWordSchema = z.enum(nameWords);
export type NameWord = z.infer<typeof nameWordSchema>;

export const namePartSchema = z.union([
  z.strictObject({ word: nameWordSchema }),
  z.strictObject({ text: z.string().trim().min(1).max(60) }),
]);
export type NamePart = z.infer<typeof namePartSchema>;

/** Parts of a name in their order; they are joined by spaces. */
export const takeNameSchema = z.array(namePartSchema).min(1).max(16);
export type TakeName = z.infer<typeof takeNameSchema>;

export const startName: TakeName = [{ word: 'setup' }, { word: 'kind' }, { word: 'number' }];

/** A name as it was stored earlier: words in braces within a text. What is no word there stays as it was typed. */
export function nameFromPattern(pattern: string): TakeName {
  const parts = pattern.split(/\{(\w*)\}/g).flatMap((piece, i): NamePart[] => {
    const text = piece.trim();
    if (text === '') return [];
    const word = nameWordSchema.safeParse(i % 2 === 1 && text === 'date' ? 'day' : text);
    return [i % 2 === 1 && word.success ? { word: word.data } : { text: text.slice(0, 60) }];
  });
  return parts.length ? parts.slice(0, 16) : startName;
}
