import { addSound } from '@mellow/practice';
import {
  amplitudeOf,
  createLoudnessMeter,
  dbOf,
  peakOf,
  rmsOf,
  sampleRateHz,
  soundChannels,
  type LoudnessMeter,
} from '@mellow/core';
import { engineCommandSchema, type EngineEvent, type SoundInput, type SoundLevel } from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import { startHearing, type Hearing } from '../sound/hearing';

/**
 * A process that listens before anything rolls, so that a person sees every sound alive. It ends with whoever asked, and no take
 * depends on it.
 */
const pieceUs = 100_000;
/** What is shown was taken so long ago: by then it has arrived from a browser too. */
const behindUs = 400_000;
const samples = new Float32Array((sampleRateHz / 10) * soundChannels);

const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

let inputs: readonly SoundInput[] = [];
let hearing: Hearing | null = null;
let meters = new Map<string, LoudnessMeter>();
let nextUs = 0;

process.on('message', (raw) => {
  const command = engineCommandSchema.safeParse(raw).data;
  if (command?.type !== 'listen') return;
  hearing?.stop();
  inputs = command.sounds;
  meters = new Map(inputs.map(({ id }) => [id, createLoudnessMeter()]));
  hearing = startHearing(inputs, { pageSounds: command.pageSounds, log: () => {} });
  nextUs = nowUs() - behindUs;
});

const timer = setInterval(() => {
  let levels: SoundLevel[] | null = null;
  for (; nextUs + pieceUs <= nowUs() - behindUs; nextUs += pieceUs) levels = inputs.map(levelOf);
  if (levels) emit({ type: 'levels', levels });
}, 50);

function levelOf({ id, from, gainDb, muted, opening }: SoundInput): SoundLevel {
  samples.fill(0);
  const sound = hearing?.sound(id);
  if (from.kind === 'practice') addSound(samples, from.part, Math.round((nextUs * sampleRateHz) / 1e6), false);
  else sound?.read(nextUs, samples);
  const gain = muted || opening === 'closed' ? 0 : amplitudeOf(gainDb);
  for (let i = 0; i < samples.length; i++) samples[i] = (samples[i] ?? 0) * gain;
  const meter = meters.get(id);
  meter?.add(samples);
  return {
    id,
    state: from.kind === 'practice' ? 'alive' : (sound?.state() ?? 'away'),
    peakDbfs: dbOf(peakOf(samples)),
    rmsDbfs: dbOf(rmsOf(samples)),
    loudnessLufs: meter?.shortTermLufs() ?? null,
    why: from.kind === 'practice' ? null : (sound?.why() ?? null),
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
