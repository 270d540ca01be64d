import { dueUs } from '@mellow/core';
import { createHeldFeed } from '../hindsight/heldFeed';
import { openLaneEncoder, type LaneEncoder } from '../sound/laneEncoder';
import { openControl } from '../shared/control';
import type { Owns } from '../shared/disposer';
import { openLedgerRing } from '../shared/ledgerRing';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { raisePriority } from '../shared/raisePriority';
import { openSoundFigures } from '../shared/soundFigures';
import { blockBeginsUs, soundBlockUs } from '../shared/soundRing';
import { noteStation } from '../shared/stationTimes';
import { openTakeClock } from '../shared/takeClock';
import type { ThreadOrder } from '../shared/takeMemory';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';
import { createLaneMixer, type MixedLane } from './laneMixer';
import { createPackedFile, type PackedPicture } from './packedFile';
import { packetKinds } from '../shared/queueKinds';
import { scriptedAt } from './script';

const ENOSPC = 28;
/** Sound goes ahead of a picture that does not come by the frames that the encoder holds and so much more. */
const soundMarginUs = 500_000;

/** Joins pictures and lanes in one file and hands its bytes to the drive thread. Whatever throws here, the container is closed. */
runThread((given, owns) => {
  const { order, memory } = given;
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const ledger = openLedgerRing(memory.ledger);
  const packets = openRingReader(memory.packets);
  const { recipe } = order;
  const real = order.clock === 'real';
  const lanes = openLanes(given, owns);
  const file = createPackedFile(given, control, lanes, owns);
  const held = createHeldFeed(memory.held, control);
  const faults = createFaults(order, 'pack');
  const mixer = createMixer();
  const whole = createPieces();
  /** Most frames the encoder held at once, so that sound does not overtake a picture that is still inside it. */
  let mostHeld = 0;
  raisePriority('packing');
  tell({ type: 'ready', threadId: ownThreadId() });

  for (let ended = false; !ended;) {
    const message = packets.next(20_000);
    if (!message) {
      if (control.get('failed')) ended = true;
      else if (real && control.get('ready') && file.begun() && control.get('stop') === 0)
        guarded(() => mixer.mixUntil(withoutPicture()));
      markWritten();
      continue;
    }
    const [kind, n, decodeIndex, key, more] = message.fields;
    if (kind === packetKinds.end) ended = true;
    else if (kind === packetKinds.packet) {
      const data = whole.add(message.payload, more !== 0);
      if (data) guarded(() => takePicture({ n, decodeIndex, key: key === 1, data }));
    } else guarded(() => begin(message.payload));
    packets.done();
    markWritten();
  }
  finish();

  /** The container is still whole where anything else throws: the take ends, and it is closed. */
  function guarded(act: () => void): void {
    try {
      act();
    } catch (error) {
      file.breakOff(error);
    }
  }

  function createMixer() {
    const faultsOfLanes = createFaults(order, 'lane');
    return createLaneMixer({
      lanes,
      inputs: recipe.sounds,
      sounds: memory.sounds,
      leadIn: recipe.leadIn,
      peaks: new Float64Array(memory.lanePeaks),
      loudness: new Float64Array(memory.laneLoudness),
      figures: openSoundFigures(memory.soundFigures),
      lateUs,
      failed: () => control.get('failed') !== 0,
      lost: (from) => control.get(from === 'practice' ? 'soundLost' : 'hearLost') !== 0,
      write(lane, sound) {
        held.sound(lane, sound);
        file.sound(lane, sound);
      },
      encoding: (atUs) => faultsOfLanes('frame', Math.floor((atUs * recipe.rate.num) / (1e6 * recipe.rate.den))),
      reopened: (lane, fromSample) => openLaneEncoder(lanes[lane]!.lane, recipe.container, fromSample),
      laneAway(lane, why) {
        file.laneAway(lane, why !== null);
        const name = recipe.lanes[lane]?.name ?? '';
        const text = `Lane “${name}” cannot be encoded: ${why}. It is silent until it can be again; picture and other lanes go on.`;
        if (why === null) tell({ type: 'log', level: 'info', text: `Lane “${name}” is encoded again.` });
        else tell({ type: 'log', level: 'error', text });
        tell({ type: 'trouble', text: why === null ? null : text });
      },
    });
  }

  function begin(header: Uint8Array): void {
    faults('begin');
    held.parameters(header);
    file.begin(header);
  }

  function takePicture(picture: PackedPicture): void {
    const { n, decodeIndex, key, data } = picture;
    mixer.mixUntil(dueUs(recipe.rate, Math.max(0, decodeIndex)));
    mostHeld = Math.max(mostHeld, control.get('encoderHolds'));
    held.picture(n, decodeIndex, key, data);
    faults('frame', n);
    file.picture(picture, scriptedAt(order.script, 'pack-omits', n) !== null);
  }

  /** How long a block's sound has been due. A take that was stopped while paused ends within a block that never goes on. */
  function lateUs(block: number): number | null {
    if (!real) return null;
    const beginsUs = blockBeginsUs(clock, block);
    if (beginsUs === Infinity && control.get('pickerDone')) return Infinity;
    return nowUs() - beginsUs - soundBlockUs;
  }

  /** How far sound may go while no picture comes: the encoder may still hold one of so long ago. */
  function withoutPicture(): number {
    mostHeld = Math.max(mostHeld, control.get('encoderHolds'));
    const patienceUs = dueUs(recipe.rate, mostHeld + 1) + soundMarginUs;
    return Math.min(clock.now() - patienceUs, dueUs(recipe.rate, order.dueFrames));
  }

  function markWritten(): void {
    file.markWritten((n) => {
      if (real) noteStation(ledger, recipe.rate, n, 'written', clock.fileOf(control.figure('lastWriteUs')));
      control.setFigure('writtenUs', Math.max(control.figure('writtenUs'), dueUs(recipe.rate, n + 1)));
    });
  }

  function finish(): void {
    guarded(() => {
      faults('end');
      if (file.begun() && !file.refused()) mixer.finishAt(control.figure('endUs'));
    });
    file.close();
    mixer.silenceSamples().forEach((samples, lane) => new Float64Array(memory.silence).set([samples], lane));
    held.end();
    control.set('packDone', 1);
    while (control.get('driveDone') === 0 && control.get('failed') === 0) control.wait('driveDone', 0, 1e6);
    markWritten();
    file.end();
    if (file.refused() && control.get('driveError') === ENOSPC)
      tell({ type: 'log', level: 'warn', text: 'The drive was full before the file could be closed.' });
    tell({ type: 'done' });
  }
});

/** Encoders of the lanes; a lane gets another one where its own fails, so that they are given back as they are in the end. */
function openLanes({ order: { recipe } }: ThreadOrder, owns: Owns): MixedLane[] {
  const lanes: MixedLane[] = [];
  owns(lanes, (all) => all.forEach(({ encoder }) => encoder.free()));
  for (const lane of recipe.lanes)
    lanes.push({ lane, encoder: openLaneEncoder(lane, recipe.container) as LaneEncoder });
  return lanes;
}

/** A packet may come in pieces of the ring's messages. */
function createPieces() {
  const pieces: Uint8Array[] = [];
  return {
    /** @returns the whole packet with its last piece; null before */
    add(payload: Uint8Array, more: boolean): Uint8Array | null {
      if (!more && !pieces.length) return payload;
      pieces.push(payload.slice());
      return more ? null : Buffer.concat(pieces.splice(0));
    },
  };
}
