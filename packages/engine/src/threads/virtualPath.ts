import { dueUs, encodeQueueFrames, sizeQueueFrames, type DueObservation } from '@mellow/core';
import type { FrameRate, ScriptEvent } from '@mellow/model';
import { scriptedAt } from './script';

/** Times of an accepted frame on the virtual clock, microseconds after due 0. */
export interface VirtualTimes {
  pickedUs: number;
  capturedUs: number;
  sizedUs: number;
  encodeInUs: number;
  encodeOutUs: number;
  writtenUs: number;
}

/** Stations with scripted delays on a virtual clock: each one serves one frame at a time, first come first served. */
export interface VirtualPath {
  observe(
    n: number,
  ): Pick<DueObservation, 'wokeAfterNextDue' | 'bytesWaiting' | 'sinceLastWriteUs' | 'unwritten' | 'room' | 'grab'>;
  accept(n: number): VirtualTimes;
}

const usual = { grabUs: 200, sizeUs: 1000, encodeUs: 2000, writeUs: 1000 };

export function virtualPath(rate: FrameRate, scales: boolean, script: readonly ScriptEvent[]): VirtualPath {
  let sizeFreeUs = 0;
  let encodeFreeUs = 0;
  let waitsForSize: number[] = [];
  let waitsForEncode: number[] = [];
  const wokeAt = (n: number) => dueUs(rate, n) + (scriptedAt(script, 'picker-wakes-late', n)?.delayUs ?? 0);
  const grabOf = (n: number) => scriptedAt(script, 'grab-takes', n)?.serviceUs ?? usual.grabUs;
  return {
    observe(n) {
      const due = dueUs(rate, n);
      waitsForSize = waitsForSize.filter((startUs) => startUs > due);
      waitsForEncode = waitsForEncode.filter((startUs) => startUs > due);
      const drive = scriptedAt(script, 'drive-waits', n);
      const room = scriptedAt(script, 'pool-is-empty', n)
        ? 'pool-empty'
        : waitsForEncode.length >= encodeQueueFrames
          ? 'encode-queue-full'
          : waitsForSize.length >= sizeQueueFrames
            ? 'size-busy'
            : 'yes';
      return {
        wokeAfterNextDue: wokeAt(n) >= dueUs(rate, n + 1),
        bytesWaiting: drive?.bytesWaiting ?? 0,
        sinceLastWriteUs: drive?.lastWriteAgoUs ?? 0,
        unwritten: { us: 0, waitsFor: 'drive' },
        room,
        grab: scriptedAt(script, 'grab-fails', n)
          ? 'failed'
          : grabOf(n) >= dueUs(rate, n + 1) - due
            ? 'unfinished'
            : 'ok',
      };
    },
    accept(n) {
      const pickedUs = wokeAt(n);
      const capturedUs = pickedUs + grabOf(n);
      let sizedUs = capturedUs;
      if (scales) {
        const startUs = Math.max(capturedUs, sizeFreeUs);
        sizedUs = startUs + (scriptedAt(script, 'size-takes', n)?.serviceUs ?? usual.sizeUs);
        sizeFreeUs = sizedUs;
        waitsForSize.push(startUs);
      }
      const encodeInUs = Math.max(sizedUs, encodeFreeUs);
      const encodeOutUs = encodeInUs + (scriptedAt(script, 'encode-takes', n)?.serviceUs ?? usual.encodeUs);
      encodeFreeUs = encodeOutUs;
      waitsForEncode.push(encodeInUs);
      return { pickedUs, capturedUs, sizedUs, encodeInUs, encodeOutUs, writtenUs: encodeOutUs + usual.writeUs };
    },
  };
}
