import { encodeQueueFrames, filedSize, isHeard, passesThrough, periodUs, sizeQueueFrames } from '@mellow/core';
import type { SoundSource, TakeOrder } from '@mellow/model';
import { nativePixels } from '../native/encoderNames';
import { pixelLayout } from '../native/pixelLayout';
import type { ConversionRoom } from '../size/sizer';
import { openSource } from './openSource';
import { createControlMemory, type ControlMemory } from './control';
import { createLedgerRingMemory, type LedgerRingMemory } from './ledgerRing';
import { createRingMemory, type RingMemory } from './messageRing';
import { createSampleLogMemory, type SampleLogMemory } from './sampleLog';
import { createPicturePools } from './picturePools';
import { createSlotPoolMemory, type SlotPoolMemory } from './slotPool';
import { createSoundFiguresMemory } from './soundFigures';
import { createStripeMemory, type StripeMemory } from './stripeMemory';
import { createSoundRingMemory, type SoundRingMemory } from './soundRing';
import { createTakeClockMemory, type TakeClockMemory } from './takeClock';

/** All memory that the threads of one take share. */
export interface TakeMemory {
  control: ControlMemory;
  clock: TakeClockMemory;
  ledger: LedgerRingMemory;
  sourcePool: SlotPoolMemory;
  /** Pictures as the encoder takes them; null when the source's own are so. */
  sizedPool: SlotPoolMemory | null;
  /** What both pools lie in where pictures are converted from one to the other in place; otherwise null. */
  conversion: ConversionRoom | null;
  /** The camera's pictures; null where there is none. */
  cameraPool: SlotPoolMemory | null;
  sizeQueue: RingMemory;
  encodeQueue: RingMemory;
  packets: RingMemory;
  fileBytes: RingMemory;
  /** One for each file of a striped take. */
  stripes: StripeMemory[];
  /** Packets on their way to what holds the last minutes; null where nothing does. */
  held: RingMemory | null;
  presents: SampleLogMemory;
  gameTimes: SampleLogMemory;
  /** Sound as it arrives, a ring for each source that a lane wants. */
  sounds: Partial<Record<SoundSource, SoundRingMemory>>;
  stationTimes: Record<'capture' | 'drive', SampleLogMemory>;
  lanePeaks: SharedArrayBuffer;
  /** Short-term loudness of each lane; not a number where it is not known. */
  laneLoudness: SharedArrayBuffer;
  soundFigures: SharedArrayBuffer;
  /** Samples of each lane that were filled with silence. */
  silence: SharedArrayBuffer;
  lateness: SampleLogMemory;
}

/** Pictures of a sample that are decoded before they are due. */
export const sampleAhead = 4;

/** The newest, one that is looked at, one that is being made, and one to spare. */
const cameraSlots = 5;

/** Most frames that an encoder may hold back, for which sound has to wait. */
const mostHeldFrames = 80;

export function createTakeMemory(order: TakeOrder): TakeMemory {
  const { game, recipe } = order;
  const source = openSource(order);
  const plain = passesThrough(game, recipe);
  const waiting = encodeQueueFrames + 6;
  const decodedAhead = order.source.kind === 'sample' ? sampleAhead : 0;
  const sourceSlots = (plain ? waiting : sizeQueueFrames + 6) + order.predrawnFrames + decodedAhead;
  const { widthPx, heightPx } = filedSize(recipe);
  const soundSeconds = 5 + Math.min(60, (mostHeldFrames * periodUs(recipe.rate)) / 1e6);
  const kept = new Set(recipe.lanes.flatMap((lane) => lane.sources));
  const wanted = recipe.sounds.filter((sound) => kept.has(sound.id) && isHeard(sound));
  return {
    control: createControlMemory(),
    clock: createTakeClockMemory(),
    ledger: createLedgerRingMemory(),
    ...createPicturePools(
      { slots: sourceSlots, layout: pixelLayout(source.pixels, source.widthPx, source.heightPx, false) },
      plain ? null : { slots: waiting, layout: pixelLayout(nativePixels(recipe.encode).name, widthPx, heightPx, true) },
      recipe,
    ),
    cameraPool: recipe.camera
      ? createSlotPoolMemory(cameraSlots, pixelLayout('yuv420p', recipe.camera.widthPx, recipe.camera.heightPx, false))
      : null,
    sizeQueue: createRingMemory(8192),
    encodeQueue: createRingMemory(8192),
    packets: createRingMemory(64e6),
    fileBytes: createRingMemory(order.waitingLimitBytes * 1.5 + 16e6),
    stripes: order.unfiled ? [] : (order.stripes?.places ?? []).map(createStripeMemory),
    held: order.hindsight ? createRingMemory(64e6) : null,
    presents: createSampleLogMemory(),
    gameTimes: createSampleLogMemory(),
    sounds: Object.fromEntries(wanted.map(({ id }) => [id, createSoundRingMemory(soundSeconds)])),
    stationTimes: { capture: createSampleLogMemory(), drive: createSampleLogMemory() },
    laneLoudness: new SharedArrayBuffer(8 * Math.max(8, recipe.lanes.length)),
    soundFigures: createSoundFiguresMemory(recipe.sounds.length),
    lanePeaks: new SharedArrayBuffer(8 * Math.max(8, recipe.lanes.length)),
    silence: new SharedArrayBuffer(8 * Math.max(8, recipe.lanes.length)),
    lateness: createSampleLogMemory(),
  };
}

/** What a thread is given when it starts. */
export interface ThreadOrder {
  order: TakeOrder;
  memory: TakeMemory;
  /** Which of several of a kind a thread is, from 0. */
  index: number;
}
