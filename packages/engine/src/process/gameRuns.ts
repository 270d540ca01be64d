import type { TakeOrder } from '@mellow/model';
import { slotsPerSecond, slotTimeUs, warmUpUs } from '@mellow/practice';
import type { Control } from '../shared/control';
import { gameModes } from '../shared/gameModes';
import { nowUs } from '../shared/monotonic';
import { openSampleLog, type SampleLogMemory } from '../shared/sampleLog';

/** The game alone needs less than game and path. */
const mostBaselineWarmUpUs = 1_500_000;
/** A game that has not heard a command after so long will not hear it. */
const hearingPatienceMs = 5000;

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Tells the practice game what to do. @returns the number of the command */
export function commandGame(control: Control, mode: keyof typeof gameModes): number {
  control.set('gameMode', gameModes[mode]);
  control.add('gameCommand', 1);
  control.wake('gameCommand');
  return control.get('gameCommand');
}

/** Starts the game for the take: its warm-up ends at due 0. @returns due 0 on the monotonic clock */
export function startGameForTake(order: TakeOrder, control: Control): number {
  const startUs = nowUs() + 30_000;
  const { slot, leftUs } = beginBeforeDueZero(order.game, order.warmUpS * 1e6);
  const dueZeroUs = startUs + leftUs;
  control.setFigure('gameStartSlot', slot);
  control.setFigure('gameStartUs', startUs);
  control.setFigure('dueZeroUs', dueZeroUs);
  commandGame(control, 'run');
  return dueZeroUs;
}

/** The game's time begins `warmUpUs` before due 0; it may be begun later. @returns its first slot, and the time from there to due 0 */
function beginBeforeDueZero(game: TakeOrder['game'], beforeUs: number): { slot: number; leftUs: number } {
  const slot = Math.ceil(((warmUpUs - beforeUs) * slotsPerSecond(game)) / 1e6);
  return { slot, leftUs: warmUpUs - slotTimeUs(game, slot) };
}

/**
 * Frame times of the game without recording, before a take. Null when it was stopped meanwhile.
 * @throws when the game does not come to rest afterwards
 */
export async function runBaseline(
  order: TakeOrder,
  control: Control,
  gameTimes: SampleLogMemory,
  tick: (leftS: number) => void,
): Promise<number[] | null> {
  const times = openSampleLog(gameTimes);
  const { slot, leftUs } = beginBeforeDueZero(order.game, Math.min(mostBaselineWarmUpUs, order.warmUpS * 1e6));
  control.setFigure('gameStartSlot', slot);
  control.setFigure('gameStartUs', nowUs() + 20_000);
  commandGame(control, 'run');
  const beginMs = performance.now() + leftUs / 1000;
  const endMs = beginMs + order.baselineS * 1000;
  const measured: number[] = [];
  let seen = -1;
  while (performance.now() < endMs && control.get('stop') === 0) {
    const nextMs = seen < 0 ? beginMs : endMs;
    await pause(Math.min(100, Math.max(1, nextMs - performance.now())));
    if (seen < 0 && performance.now() >= beginMs) seen = times.count();
    if (seen >= 0) {
      const fresh = times.since(seen);
      measured.push(...fresh.values);
      seen = fresh.count;
    }
    tick(Math.max(0, (endMs - performance.now()) / 1000));
  }
  await untilHeard(control, commandGame(control, 'idle'));
  return control.get('stop') ? null : measured;
}

async function untilHeard(control: Control, command: number): Promise<void> {
  const giveUpMs = performance.now() + hearingPatienceMs;
  while (control.get('gameHeard') < command && control.get('failed') === 0) {
    if (performance.now() > giveUpMs)
      throw new Error('The practice game did not come to rest after its run without recording.');
    await pause(5);
  }
}

/** Frame times of the same passage as the baseline's, while recording; later ones are not kept. */
export function createRecordedRun(seconds: number, warmUpS: number) {
  const picked: number[] = [];
  let elapsedMs = -warmUpS * 1000;
  return {
    add(frameTimesMs: readonly number[]): void {
      for (const ms of frameTimesMs) {
        elapsedMs += ms;
        if (elapsedMs > 0 && elapsedMs <= seconds * 1000) picked.push(ms);
      }
    },
    timesMs: (): readonly number[] => picked,
  };
}
