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
  type PageSounds,
  type SoundInput,
  type SoundLevel,
  type SoundSource,
} from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import { startHearing } from '../sound/hearing';
import { createLastHeard } from '../sound/lastHeard';

/**
 * A process that listens before anything rolls, so that a person sees every sound alive. It ends with whoever asked, and no take
 * depends on it.
 */
const pieceUs = 100_000;
/** What is shown was taken so long ago: by then it has arrived from a browser too. */
const behindUs = 400_000;
const pieceValues = (sampleRateHz / 10) * soundChannels;

const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

type Ear = ReturnType<typeof openEar>;
let ear: Ear | null = null;

process.on('message', (raw) => {
  const command = engineCommandSchema.safeParse(raw).data;
  if (command?.type === 'last-heard')
    emit({ type: 'last-heard', lane: command.lane, samples: ear?.last(command.lane) ?? new Int16Array(0) });
  if (command?.type !== 'listen') return;
  ear?.stop();
  ear = openEar(command.to, command.pageSounds);
});
const timer = setInterval(() => ear?.tell(), 50);

function openEar({ sounds, lanes }: Listening, pageSounds: PageSounds | null) {
  const hearing = startHearing(sounds, { pageSounds, log: () => {} });
  const meters = new Map(sounds.map(({ id }) => [id, createLoudnessMeter()]));
  const laneMeters = lanes.map(createLoudnessMeter);
  const kept = lanes.map(createLastHeard);
  let nextUs = nowUs() - behindUs;

  function pieceOf({ id, from, gainDb, ...input }: SoundInput): Float32Array {
    const samples = new Float32Array(pieceValues);
    if (from.kind === 'practice') addSound(samples, from.part, Math.round((nextUs * sampleRateHz) / 1e6), false);
    else hearing.sound(id)?.read(nextUs, samples);
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
        const pieces = new Map(sounds.map((input) => [input.id, pieceOf(input)]));
        const levels = {
          sounds: sounds.map((input) => levelOf(input, pieces.get(input.id) ?? new Float32Array(0))),
          lanes: lanes.map((lane, at) => laneLevel(lane, at, pieces)),
        };
        emit({ type: 'levels', levels });
      }
    },
    last: (lane: number): Int16Array<ArrayBuffer> => kept[lane]?.samples() ?? new Int16Array(0),
    stop: hearing.stop,
  };
}

process.on('disconnect', () => {
  clearInterval(timer);
  ear?.stop();
  process.exit(0);
});
process.on('SIGINT', () => {});
emit({ type: 'ready', pid: process.pid });
if (!process.connected) process.exit(0);
