import { addSound } from '@mellow/practice';
import {
  amplitudeOf,
  createLoudnessMeter,
  dbOf,
  isHeard,
  peakOf,
  rmsOf,
  sampleRateHz,
  soundChannels,
} from '@mellow/core';
import {
  engineCommandSchema,
  type EngineEvent,
  type LaneLevel,
  type Listening,
  type SoundInput,
  type SoundLevel,
  type SoundSource,
} from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import { startHearing, type Hearing } from '../sound/hearing';
import { createLastHeard } from '../sound/lastHeard';

/**
 * A process that listens before anything rolls, so that a person sees every sound alive. It ends with whoever asked, and no take
 * depends on it.
 */
const pieceUs = 100_000;
/** What is shown was taken so long ago: by then it has arrived from a browser too. */
const behindUs = 400_000;
const mostBehindUs = 2_000_000;
const pieceValues = (sampleRateHz / 10) * soundChannels;

const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

let hearing: Hearing | null = null;
let heardFrom = '';
let ear: ReturnType<typeof openEar> | null = null;

process.on('message', (raw) => {
  const command = engineCommandSchema.safeParse(raw).data;
  if (command?.type === 'last-heard')
    emit({ type: 'last-heard', lane: command.lane, samples: ear?.last(command.lane) ?? new Int16Array(0) });
  if (command?.type !== 'listen') return;
  const { to, pageSounds } = command;
  // Another level or another lane is no reason to open devices anew.
  const from = JSON.stringify(to.sounds.map((sound) => [sound.id, sound.from]));
  if (from !== heardFrom) {
    hearing?.stop();
    hearing = startHearing(to.sounds, { pageSounds, log: () => {} });
  }
  heardFrom = from;
  ear = openEar(to, hearing as Hearing);
});
const timer = setInterval(() => ear?.tell(), 50);

function openEar({ sounds, lanes }: Listening, hearing: Hearing) {
  const meters = new Map(sounds.map(({ id }) => [id, createLoudnessMeter()]));
  const laneMeters = lanes.map(createLoudnessMeter);
  const kept = lanes.map(createLastHeard);
  /** What has arrived of the piece that is next; null: not yet. */
  let arrived = new Map<SoundSource, Float32Array | null>();
  let nextUs = nowUs() - behindUs;

  /** A piece of a sound after its gain; null where it has not arrived. */
  function pieceOf({ id, from, gainDb, ...input }: SoundInput): Float32Array | null {
    const samples = new Float32Array(pieceValues);
    if (from.kind === 'practice') addSound(samples, from.part, Math.round((nextUs * sampleRateHz) / 1e6), false);
    else if (!hearing.sound(id)?.read(nextUs, samples)) return null;
    const gain = isHeard(input) ? amplitudeOf(gainDb) : 0;
    return samples.map((value) => value * gain);
  }

  function levelOf({ id, from }: SoundInput, samples: Float32Array): SoundLevel {
    const sound = hearing.sound(id);
    meters.get(id)?.add(samples);
    return {
      id,
      state: from.kind === 'practice' ? 'alive' : (sound?.state() ?? 'away'),
      peakDbfs: dbOf(peakOf(samples)),
      rmsDbfs: dbOf(rmsOf(samples)),
      loudnessLufs: meters.get(id)?.shortTermLufs() ?? null,
      why: from.kind === 'practice' ? null : (sound?.why() ?? null),
    };
  }

  function laneLevel(
    lane: readonly SoundSource[],
    at: number,
    pieces: ReadonlyMap<SoundSource, Float32Array>,
  ): LaneLevel {
    const mix = new Float32Array(pieceValues);
    for (const source of lane) {
      const piece = pieces.get(source);
      if (piece) for (let i = 0; i < mix.length; i++) mix[i] = (mix[i] ?? 0) + (piece[i] ?? 0);
    }
    kept[at]?.add(mix);
    laneMeters[at]?.add(mix);
    return { peakDbfs: dbOf(peakOf(mix)), loudnessLufs: laneMeters[at]?.shortTermLufs() ?? null };
  }

  return {
    tell(): void {
      for (; nextUs + pieceUs <= nowUs() - behindUs; nextUs += pieceUs) {
        for (const input of sounds) if (!arrived.get(input.id)) arrived.set(input.id, pieceOf(input));
        const read = [...arrived];
        // What is alive and has not arrived is on its way, on a busy PC for most of a second.
        const comes = read.some(([id, piece]) => piece === null && hearing.sound(id)?.state() !== 'away');
        if (comes && nowUs() - nextUs < mostBehindUs) return;
        arrived = new Map();
        const pieces = new Map(read.map(([id, piece]) => [id, piece ?? new Float32Array(pieceValues)]));
        const levels = {
          sounds: sounds.map((input) => levelOf(input, pieces.get(input.id) ?? new Float32Array(0))),
          lanes: lanes.map((lane, at) => laneLevel(lane, at, pieces)),
        };
        emit({ type: 'levels', levels });
      }
    },
    last: (lane: number): Int16Array<ArrayBuffer> => kept[lane]?.samples() ?? new Int16Array(0),
  };
}

process.on('disconnect', () => {
  clearInterval(timer);
  hearing?.stop();
  process.exit(0);
});
process.on('SIGINT', () => {});
emit({ type: 'ready', pid: process.pid });
if (!process.connected) process.exit(0);
