import type { FrameRate, TakeOrder } from '@mellow/model';
import { helpersNamed, type ThreadName } from '../process/threadGroup';

/** What is known of a source before its first frame. */
export interface SourceFacts {
  widthPx: number;
  heightPx: number;
  pixels: '4:2:0';
  range: 'limited';
  /** Frames a second it delivers, null where it is not known before. */
  rate: FrameRate | null;
  /** It delivers a frame only when the picture changed, so that a repeat is no sign of a slow game. */
  reportsOnlyChanges: boolean;
  /** Threads that bring its frames, that help with them, and that bring its sound. */
  threads: { pictures: ThreadName; helpers: readonly ThreadName[]; sound: ThreadName };
}

/** What a take's source is, before anything of it is started. */
export function openSource({ source, game }: Pick<TakeOrder, 'source' | 'game'>): SourceFacts {
  switch (source.kind) {
    case 'practice':
      return {
        widthPx: game.widthPx,
        heightPx: game.heightPx,
        pixels: '4:2:0',
        range: 'limited',
        rate: game.capFps === null ? null : { num: game.capFps, den: 1 },
        reportsOnlyChanges: false,
        threads: { pictures: 'game', helpers: helpersNamed(game.helpers), sound: 'sound' },
      };
  }
}
