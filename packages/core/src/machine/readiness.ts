import type { Machine, MachineSheet } from '@mellow/model';
import { encoderFacts, encodeWorkUs } from '../codec';
import { startRecipe, plainPracticeGame } from '../recipe';
import { capitalised } from '../units';
import { setSizeRate } from './usualFormats';

/** A machine of which only what the system tells is known. */
export const unprovenSheet = (machine: Machine, id: string): MachineSheet => ({
  ...machine,
  id,
  demo: false,
  coreSpeed: {
    value: 1,
    low: 0.5,
    high: 2,
    origin: 'assumed',
    from: 'not measured yet; a trial or the encoder test tells',
  },
  graphics: null,
  displays: [],
  encoders: [],
  drives: [],
  provenAt: null,
});

export interface Readiness {
  /** Whether it can record at all, and in one sentence what. */
  ready: boolean;
  sentence: string;
  /** The encoder to take first; null before any was proven. */
  recommended: MachineSheet['encoders'][number] | null;
}

/** The highest usual format a machine keeps in AVC with its best encoder, and whether it can record at all. */
export function readinessOf(machine: MachineSheet): Readiness {
  const working = machine.encoders.filter((e) => e.works);
  if (!machine.encoders.length)
    return {
      ready: true,
      sentence: `${capitalised(machine.name)} has not been measured. Software encoding runs on every PC; a test of some seconds tells how much.`,
      recommended: null,
    };
  if (!working.length)
    return {
      ready: false,
      sentence: `No encoder works on ${machine.name}: nothing can be recorded. The reasons stand beside each.`,
      recommended: null,
    };
  const recommended =
    working.find((e) => e.encoder === 'avc-card') ??
    working.find((e) => e.encoder === 'avc-processor-graphics') ??
    working.find((e) => e.encoder === 'avc-software') ??
    working[0] ??
    null;
  const kept = recommended ? keeps(machine, recommended.encoder) : null;
  const how = recommended
    ? `${encoderFacts[recommended.encoder].standard} ${encoderFacts[recommended.encoder].place === 'software' ? 'in software' : 'on its own block'}`
    : '';
  const sentence = kept
    ? `${capitalised(machine.name)} keeps ${kept} in ${how}${encoderFacts[recommended?.encoder ?? 'avc-software'].place === 'software' ? ', with half of its cores left to the game' : ''}.`
    : `${capitalised(machine.name)} encodes, but slowly: 720 lines at 30 fps ask for all of it.`;
  return { ready: true, sentence, recommended };
}

const formats = [
  [2160, 60],
  [1440, 60],
  [1080, 120],
  [1080, 60],
  [1080, 30],
  [720, 60],
  [720, 30],
] as const;

/** The first of the usual formats whose busiest frames fit their budget. */
function keeps(machine: MachineSheet, encoder: MachineSheet['encoders'][number]['encoder']): string | null {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
  const software = encoderFacts[encoder].place === 'software';
  for (const [lines, fps] of formats) {
    const recipe = setSizeRate({ ...start, encode: { ...start.encode, encoder } }, lines, fps);
    const us = encodeWorkUs(recipe, machine).value / (software ? Math.max(1, machine.cores / 2) : 1);
    if (us * 1.7 <= 1e6 / fps) return `${lines} lines at ${fps} fps`;
  }
  return null;
}
