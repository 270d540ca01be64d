import type { Figure } from '@mellow/model';

/** Where a figure comes from in one phrase: "typical: for such a scene", "measured in trial 4". */
export const originText = ({ origin, from }: Pick<Figure, 'origin' | 'from'>): string =>
  from.startsWith(origin) ? from : `${origin}: ${from}`;
