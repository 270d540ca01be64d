import type { Effort, EncoderName, MachineSheet } from '@mellow/model';
import { encoderFacts, encodeWorkUs } from '../codec';
import { encodeParallelism } from '../forecast';
import { plainPracticeGame, startRecipe } from '../recipe';
import { setSizeRate } from './usualFormats';

export interface EncoderSpeed {
  effort: Effort;
  /** Frames a second of 1920x1080 with nothing else running. */
  fps: number;
  /** Whether this effort itself was tried; otherwise the effort ladder was applied to one that was. */
  tried: boolean;
}

/** How fast an encoder of a machine is by effort, lightest first: at 1920x1080, with all that it may use to itself. */
export function encoderSpeeds(machine: MachineSheet, encoder: EncoderName): EncoderSpeed[] {
  const facts = encoderFacts[encoder];
  const state = machine.encoders.find((e) => e.encoder === encoder);
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
  const efforts: readonly Effort[] = facts.efforts.length ? facts.efforts : ['lightest'];
  return efforts.map((effort) => {
    const recipe = setSizeRate({ ...start, encode: { ...start.encode, encoder, effort, bFrames: 0 } }, 1080, 60);
    const parallel = facts.place === 'software' ? encodeParallelism(recipe, machine.cores) : 1;
    return {
      effort,
      fps: (1e6 / encodeWorkUs(recipe, machine).value) * parallel,
      tried: state?.byEffort[effort] !== undefined,
    };
  });
}
