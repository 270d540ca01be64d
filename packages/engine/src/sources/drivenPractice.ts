import { dueUs } from '@mellow/core';
import type { FrameRate, PracticeGame, ScriptEvent } from '@mellow/model';
import { isStalled, practiceScene, slotsPerSecond, slotTimeUs, warmUpUs, type Picture420 } from '@mellow/practice';

/** The practice game on a virtual clock: a frame is presented exactly at its slot. */
export interface DrivenSource {
  /** The newest slot presented at due n, null before the first. */
  newestAt(n: number): number | null;
  /** Time of a slot's presentation against due 0. */
  presentUs(slot: number): number;
  /** The first slot presented after another. */
  nextAfter(slot: number): number;
  draw(slot: number, into: Picture420): void;
  /** How many slots were presented up to this one; ask in rising order. */
  presentedThrough(slot: number): number;
}

export function drivenPractice(game: PracticeGame, rate: FrameRate, script: readonly ScriptEvent[]): DrivenSource {
  const scene = practiceScene(game);
  const first = Math.ceil((warmUpUs * slotsPerSecond(game)) / 1e6) - 2;
  const presentUs = (slot: number) => slotTimeUs(game, slot) - warmUpUs;
  const silent = (slot: number): boolean => {
    const time = presentUs(slot);
    if (isStalled(game, slotTimeUs(game, slot))) return true;
    return script.some(
      (event) =>
        (event.kind === 'game-presents-nothing' &&
          time >= dueUs(rate, event.fromDue) &&
          time < dueUs(rate, event.toDue)) ||
        (event.kind === 'game-starts-at' && time < dueUs(rate, event.fromDue)),
    );
  };
  const latestSlotBy = (timeUs: number) => Math.floor(((timeUs + warmUpUs) * slotsPerSecond(game)) / 1e6 + 1e-6);
  let presentedTo = first;
  let presented = 0;
  return {
    newestAt(n) {
      const due = dueUs(rate, n);
      // One beyond the estimate: slot and due are rounded to microseconds, each by itself.
      for (let slot = latestSlotBy(due) + 1; slot >= first; slot--) {
        if (presentUs(slot) <= due && !silent(slot)) return slot;
      }
      return null;
    },
    presentUs,
    nextAfter(slot) {
      let next = slot + 1;
      while (silent(next) && next < slot + 100_000) next++;
      return next;
    },
    draw: (slot, into) => scene.draw(into, slot),
    presentedThrough(slot) {
      for (; presentedTo <= slot; presentedTo++) if (!silent(presentedTo)) presented++;
      return presented;
    },
  };
}
