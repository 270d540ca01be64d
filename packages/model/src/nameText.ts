import { z } from 'zod';

// What begins with NUL is stored as nothing by SQLite, and no page can show the others.
const control = /[\u0000-\u001f\u007f]/;

/** A name that a person gives: something that can be seen, on one line. */
export const nameText = (most: number) =>
  z
    .string()
    .trim()
    .min(1)
    .max(most)
    .refine((text) => !control.test(text), 'A name has no control characters.');
