import { dueUs, framesPerSecond } from '@mellow/core';
import { stationNames, type EngineEvent, type Held, type SecondRow } from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import type { TakeRecord } from './takeState';

type LiveEvent = Extract<EngineEvent, { type: 'live' }>;

/** What the recorder says of a take while it is made. @param second the last second that is over */
export function liveEvent(take: TakeRecord, second: SecondRow | null): LiveEvent {
  const { order, control, clock, sounds } = take;
  const { rate, camera } = order.recipe;
  const plannedUs = dueUs(rate, order.dueFrames);
  const onClockUs = Math.max(0, take.dueZeroUs ? clock.now() : 0);
  const pausedSinceUs = clock.pausedSinceUs();
  const elapsedUs = order.clock === 'real' ? onClockUs : dueUs(rate, control.get('dueIssued'));
  return {
    type: 'live',
    live: {
      takeId: order.takeId,
      state: take.state,
      lengthS: order.openEnd ? null : plannedUs / 1e6,
      elapsedUs: Math.min(elapsedUs, take.state === 'closing' ? control.figure('endUs') : plannedUs),
      baselineLeftS: take.baselineLeftS,
      due: control.get('dueIssued'),
      ...take.counter.snapshot(),
      unsettled: Math.max(0, control.get('dueIssued') - control.get('settledRows')),
      troubles: take.troubles.all(),
      ...bytesOf(take, second),
      gameFps: second?.game.meanMs ? 1000 / second.game.meanMs : null,
      gameSlowestMs: second?.game.slowestMs ?? null,
      loads: loadsOf(second),
      lanePeakDbfs: second?.lanePeakDbfs ?? [],
      recorderCores: second?.processor?.recorder ?? null,
      held: heldNow(take),
      pausedS: pausedSinceUs === null ? null : (nowUs() - pausedSinceUs) / 1e6,
      cuts: clock.cuts(),
      parts: 1 + control.get('partsTurned'),
      processor: second?.processor ?? null,
      laneLufs: sounds.laneLufs(),
      sounds: sounds.levels(),
      camera: camera && order.clock === 'real' ? (control.get('cameraAway') ? 'away' : 'alive') : null,
    },
  };
}

function bytesOf({ control }: TakeRecord, second: SecondRow | null) {
  const roomBytes = control.figure('roomBytes');
  return {
    bytesWritten: control.figure('drivenBytes'),
    durableBytes: control.figure('durableBytes'),
    bytesPerSecond: second?.bytesWritten ?? 0,
    bytesQueued: control.figure('handedBytes') - control.figure('drivenBytes'),
    writtenUs: control.figure('writtenUs'),
    roomBytes: roomBytes < 0 ? null : roomBytes,
  };
}

function heldNow({ order, control }: TakeRecord): Held | null {
  if (!order.hindsight) return null;
  const { lengthS, where } = order.hindsight;
  return {
    ...{ lengthS, where, bytes: control.figure('heldBytes'), gaps: control.get('heldGaps') },
    heldS: control.figure('heldFrames') / framesPerSecond(order.recipe.rate),
  };
}

function loadsOf(second: SecondRow | null) {
  return Object.fromEntries(
    stationNames.map((name) => [name, second?.load[name] ?? { meanMs: null, busiestMs: null }]),
  ) as SecondRow['load'];
}
