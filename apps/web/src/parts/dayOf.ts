/** A day as people write it, without its year. */
export const dayOf = (day: Date): string => day.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
