import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Take } from '@mellow/model';
import { capitalised, takeName, errorText } from '@mellow/core';
import { problem } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { JobService } from '../files/jobs';
import type { TakeService } from '../takes/takes';
import type { WorkingService } from '../drives/working';

export interface PlayableMedia {
  path: string;
  type: 'video/mp4' | 'video/x-matroska';
}

export interface TakeMediaService {
  /** The picture with one lane, to be played in a page. */
  withLane(takeId: string, lane: number): Promise<PlayableMedia>;
}

/** Codecs that MP4 carries here; what it does not goes into Matroska. */
const pictureInMp4 = ['h264', 'hevc', 'av1', 'mjpeg'];

/**
 * A page plays the first track only, and a recorder's Matroska has no seek table for it: one copy a lane is made when it is
 * first asked for, kept in the cache and removed with its take. Two who ask at once get the same one.
 */
export function createTakeMedia(
  takes: TakeService,
  working: Pick<WorkingService, 'trouble'>,
  jobs: JobService,
  recorder: RecorderService,
): TakeMediaService {
  const making = new Map<string, Promise<void>>();
  const make = (take: Take, path: string, lane: number, outPath: string): Promise<void> =>
    recorder
      .beside(() =>
        jobs.run({
          title: `${capitalised(takeName(take))}: making it playable`,
          takeId: take.id,
          yields: true,
          job: { kind: 'hear', filePath: path, lane, outPath, rate: take.recipe.rate },
        }),
      )
      .then(
        () => {},
        (error: unknown) => {
          if (error instanceof Error && 'problem' in error) throw error;
          const why = errorText(error);
          throw problem('job-failed', `The take cannot be made playable: ${why} Its file was not touched.`);
        },
      );
  return {
    async withLane(takeId, lane) {
      await takes.file(takeId);
      const path = await takes.readable(takeId);
      const take = await takes.get(takeId);
      const lanes = take.facts?.lanes.length ?? 0;
      if (lane > 0 && lane >= lanes)
        throw problem('not-found', `The take has ${lanes} lanes; lane ${lane + 1} is not among them.`);
      const away = working.trouble();
      if (away) throw problem('drive-problem', `${away} A copy for playing lies there. The take was not touched.`);
      const inMp4 =
        pictureInMp4.includes(take.facts?.picture.codec ?? '') && take.facts?.lanes[lane]?.codec !== 'pcm_s16le';
      const cached = join(takes.cacheFolder(takeId), `lane-${lane}${inMp4 ? '.mp4' : '.mkv'}`);
      if (!existsSync(cached) || making.has(cached)) {
        mkdirSync(takes.cacheFolder(takeId), { recursive: true });
        if (!making.has(cached))
          making.set(
            cached,
            make(take, path, lane, cached).finally(() => void making.delete(cached)),
          );
        await making.get(cached);
      }
      return { path: cached, type: inMp4 ? 'video/mp4' : 'video/x-matroska' };
    },
  };
}
