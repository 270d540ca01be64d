import type { FrameRate, TakeOrder } from '@mellow/model';
import { helpersNamed, type ThreadName } from './threadNames';

/** What is known of a source before its first frame. */
export interface SourceFacts {
  widthPx: number;
  heightPx: number;
  pixels: 'yuv420p' | 'bgr0';
  range: 'limited' | 'full';
  /** Frames a second it delivers, null where it is not known before. */
  rate: FrameRate | null;
  /** It delivers a frame only when the picture changed, so that a repeat is no sign of a slow game. */
  reportsOnlyChanges: boolean;
  /** Threads that bring its frames, and that help with them. */
  threads: { pictures: ThreadName; helpers: readonly ThreadName[] };
  /** It is taken from the screen, so that getting it can be late or fail by itself. */
  grabbed: boolean;
}

/** What a take's source is, before anything of it is started. */
export function openSource({ source, game }: Pick<TakeOrder, 'source' | 'game'>): SourceFacts {
  switch (source.kind) {
    case 'practice':
      return {
        widthPx: game.widthPx,
        heightPx: game.heightPx,
        pixels: 'yuv420p',
        range: 'limited',
        rate: game.capFps === null ? null : { num: game.capFps, den: 1 },
        reportsOnlyChanges: false,
        threads: { pictures: 'game', helpers: helpersNamed(game.helpers) },
        grabbed: false,
      };
    case 'display':
    case 'region':
    case 'window':
      return {
        widthPx: source.widthPx,
        heightPx: source.heightPx,
        pixels: 'bgr0',
        range: 'full',
        rate: null,
        reportsOnlyChanges: true,
        threads: { pictures: 'grab', helpers: [] },
        grabbed: true,
      };
    case 'sample':
      return {
        widthPx: source.widthPx,
        heightPx: source.heightPx,
        pixels: source.pixels,
        range: source.pixels === 'bgr0' ? 'full' : 'limited',
        rate: source.rate,
        reportsOnlyChanges: false,
        threads: { pictures: 'play', helpers: [] },
        grabbed: false,
      };
  }
}
