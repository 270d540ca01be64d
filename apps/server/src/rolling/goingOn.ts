import { capitalised, takeName, errorText } from '@mellow/core';
import type { Take } from '@mellow/model';
import { ProblemError } from '../errors/problem';
import type { AppLog } from '../program/appLog';
import type { DriveService } from '../drives/drives';
import type { LiveHub } from '../program/liveHub';
import type { TakeService } from '../takes/takes';
import type { RecorderService } from '../recorder/recorderService';

export interface GoingOnServices {
  recorder: Pick<RecorderService, 'onEnded' | 'startTrial'>;
  takes: Pick<TakeService, 'get'>;
  drives: Pick<DriveService, 'get' | 'problemOf'>;
  live: Pick<LiveHub, 'notify'>;
  log: AppLog;
  /** Another take is the one that was begun with a game, and ends with it. */
  tookOver: (earlier: string, now: string) => void;
  /** Whether a take that was begun with a game may be followed by another: the game still runs. */
  mayGoOn: (takeId: string) => boolean;
}

/** So many takes follow each other that rolled less than a minute each: what breaks at once breaks again. */
const mostQuick = 3;
const steadyUs = 60e6;
/** What is left of a length that was asked for; less is not worth a take. */
const leastLengthS = 10;

/**
 * An evening goes on: where a full take was cut off because its recorder died or its drive went, another one of the same
 * setup begins at once, in the next folder where the first cannot be used.
 */
export function startGoingOn({ recorder, takes, drives, live, log, tookOver, mayGoOn }: GoingOnServices): void {
  /** For each setup, how many in a row rolled less than a minute. */
  const quick = new Map<string, number>();

  async function goOn(take: Take, rolledUs: number): Promise<void> {
    const quickOnes = rolledUs < steadyUs ? (quick.get(take.setupId) ?? 0) + 1 : 0;
    quick.set(take.setupId, quickOnes);
    const pausedS = take.cuts.reduce((sum, { leftOutUs }) => sum + leftOutUs, 0) / 1e6;
    const sinceS = (Date.now() - Date.parse(take.createdAt)) / 1000 - pausedS;
    const lengthS = take.lengthS === null ? null : Math.round(take.lengthS - sinceS);
    if (lengthS !== null && lengthS < leastLengthS) return;
    // The game it was begun with has ended meanwhile: nothing is played any more.
    if (!mayGoOn(take.id)) return;
    const say = (what: string, why: string): void =>
      live.notify('loss', `${capitalised(takeName(take))} ended early${what}`, `${take.endText ?? ''} ${why}`, take.id);
    if (quickOnes > mostQuick) return say('', 'So did those before it: no other take begins by itself.');
    const driveId = await nextDrive(take);
    if (driveId === null) return say('', 'No folder can be written to in which another one could go on.');
    try {
      const next = await recorder.startTrial(take.setupId, lengthS, 'full', driveId);
      tookOver(take.id, next.id);
      const { name } = await drives.get(driveId);
      say(`, ${takeName(next)} goes on`, `What is played now goes to ${name}.`);
    } catch (error) {
      say('', `No other take could begin: ${error instanceof ProblemError ? error.problem.detail : errorText(error)}`);
    }
  }

  /** The drive it went to, unless that refused bytes or is gone; otherwise the first of the next folders that can be used. */
  async function nextDrive({ driveId, end, recipe }: Take): Promise<string | null> {
    const candidates = [
      ...(end === 'drive-error' ? [] : [driveId]),
      ...recipe.nextDriveIds.filter((id) => id !== driveId),
    ];
    for (const id of candidates) {
      const drive = await drives.get(id).catch(() => null);
      if (drive && drives.problemOf(drive) === null) return id;
    }
    return null;
  }

  recorder.onEnded(async ({ takeId, byItself, rolledUs }) => {
    try {
      const take = await takes.get(takeId);
      if (take.kind !== 'full') return;
      if (byItself) await goOn(take, rolledUs);
      else quick.delete(take.setupId);
    } catch (error) {
      log.add('error', `No other take goes on: ${errorText(error)}`);
    }
  });
}
