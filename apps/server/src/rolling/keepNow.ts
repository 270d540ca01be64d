import { hindsightWords } from '@mellow/core';
import type { KeptClip } from '@mellow/model';
import { problem } from '../errors/problem';
import type { HindsightService } from '../hindsight/hindsight';
import type { RecorderService } from '../recorder/recorderService';
import type { ClipOrigin } from '../hindsight/clip';
import type { ClipService } from '../hindsight/clips';
import type { MarkService } from './marks';
import type { TakeService } from '../takes/takes';

/** Keeps the last seconds of what rolls, or of what is held without a take; null: all that the setup holds. */
export type KeepNow = (lastS: number | null) => Promise<KeptClip>;

export interface KeepNowServices {
  recorder: RecorderService;
  hindsight: HindsightService;
  clips: ClipService;
  marks: MarkService;
  takes: TakeService;
}

export function createKeepNow({ recorder, hindsight, clips, marks, takes }: KeepNowServices): KeepNow {
  /** What is held now, of the take that rolls before anything else. */
  async function origin(): Promise<{ from: ClipOrigin; rolls: boolean } | null> {
    const rolling = recorder.rollingNow();
    if (rolling) {
      if (!rolling.held) return null;
      const take = await takes.get(rolling.takeId);
      const { setupId, driveId } = take;
      return {
        rolls: true,
        from: { setupId, driveId, from: take, lengthS: rolling.held.lengthS, keep: recorder.keep },
      };
    }
    const watched = hindsight.now();
    if (!watched?.order.hindsight) return null;
    const { setup, drive, clip, order } = watched;
    return {
      rolls: false,
      from: {
        setupId: setup.id,
        driveId: drive.id,
        from: clip,
        lengthS: order.hindsight?.lengthS ?? 0,
        keep: hindsight.keep,
      },
    };
  }

  return async (lastS) => {
    const found = await origin();
    if (!found)
      throw problem(
        'recorder-idle',
        'Nothing is held now: choose under Roll how much is to be held, and switch it on. Nothing was kept.',
      );
    const clip = await clips.keep(found.from, lastS);
    // A take that ended meanwhile has no place for the mark any more.
    if (found.rolls) await marks.add(`${hindsightWords(clip.keptUs / 1e6)} kept`).catch(() => null);
    return clip;
  };
}
