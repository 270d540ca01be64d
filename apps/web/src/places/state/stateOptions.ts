import { z } from 'zod';

export const stateShows = ['everything', 'the clock', 'only a shape'] as const;
export const stateSizes = ['small', 'middle', 'large'] as const;
export const stateSchemes = ['as this page', 'light', 'dark'] as const;
export const stateCorners = ['upper left', 'upper right', 'lower left', 'lower right'] as const;

/** How the state window looks, kept by the browser. */
const stateOptionsSchema = z.object({
  shows: z.enum(stateShows).default('everything'),
  size: z.enum(stateSizes).default('middle'),
  scheme: z.enum(stateSchemes).default('as this page'),
  corner: z.enum(stateCorners).default('upper right'),
});
export type StateOptions = z.infer<typeof stateOptionsSchema>;

const storedAt = 'mellow-state-window';

export function storedStateOptions(): StateOptions {
  try {
    return stateOptionsSchema.parse(JSON.parse(localStorage.getItem(storedAt) ?? '{}'));
  } catch {
    return stateOptionsSchema.parse({});
  }
}

export const storeStateOptions = (options: StateOptions): void =>
  localStorage.setItem(storedAt, JSON.stringify(options));

const widthPx = { small: 200, middle: 280, large: 400 } as const;
const heightPx = { everything: 112, 'the clock': 64, 'only a shape': 48 } as const;
const scale = { small: 0.8, middle: 1, large: 1.4 } as const;

/** Size of the window for what it shows. */
export function stateWindowSize({ shows, size }: StateOptions): { width: number; height: number } {
  const height = Math.round(heightPx[shows] * scale[size]);
  return { width: shows === 'only a shape' ? height * 2 : widthPx[size], height };
}

/** Place of its upper left corner in a screen, a little away from the edges. */
export function stateWindowPlace(
  options: StateOptions,
  screen: { left: number; top: number; width: number; height: number },
): { left: number; top: number } {
  const edge = 16;
  const { width, height } = stateWindowSize(options);
  return {
    left: options.corner.endsWith('left') ? screen.left + edge : screen.left + screen.width - width - edge,
    top: options.corner.startsWith('upper') ? screen.top + edge : screen.top + screen.height - height - edge,
  };
}
