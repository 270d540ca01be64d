import type { Take, Unpaced } from '@mellow/model';
import { encoderFacts } from '../codec/encoders';
import { periodUs } from '../units';

/**
 * Whether a finished take's encoder has to be timed afterwards: it is a block, whose threads say nothing of it, or the system
 * does not tell what threads use. On a simulated machine there is no encoder to time.
 */
export const needsUnpaced = ({ state, facts, summary, machine, unpaced }: Take): boolean =>
  state === 'closed' &&
  facts !== null &&
  summary !== null &&
  machine.origin === 'measured' &&
  !unpaced &&
  summary.loads.encode === null;

/**
 * The take with its encoder's load as an unpaced encode found it (docs/model.md, "Loads"): a block by the clock, since it takes
 * one frame after the other; software by the processor time of a frame over the cores. One figure stands for usual and busiest.
 */
export function withUnpacedLoad(
  { summary, recipe, machine }: Take,
  unpaced: Unpaced,
): Pick<Take, 'summary' | 'unpaced'> {
  if (!summary) return { summary, unpaced };
  const inSoftware = encoderFacts[recipe.encode.encoder].place === 'software';
  const us = inSoftware && unpaced.processorUs !== null ? unpaced.processorUs / machine.cores : unpaced.clockUs;
  const encode = { usualMs: us / 1000, busiestMs: us / 1000, budgetMs: periodUs(recipe.rate) / 1000 };
  return { unpaced, summary: { ...summary, loads: { ...summary.loads, encode } } };
}
