import { passesThrough } from '@mellow/core';
import type { TakeOrder } from '@mellow/model';
import type { TakeMemory } from '../shared/takeMemory';
import { stripesNamed, type ThreadName } from '../shared/threadNames';
import type { SourceFacts } from '../shared/openSource';
import { soundThreads } from './takeSounds';

/** Which threads a take has, and what is waited for. */
export interface TakeThreads {
  names: ThreadName[];
  /** Those that close files: the take ends when they are through. */
  waitFor: ThreadName[];
  /** Without them nothing is begun: who wants to be seen should know that the camera cannot be opened. */
  neededToBegin: ThreadName[];
}

export function takeThreads(order: TakeOrder, memory: TakeMemory, source: SourceFacts): TakeThreads {
  const real = order.clock === 'real';
  const drives: ThreadName[] = order.unfiled ? [] : ['drive', ...stripesNamed(memory.stripes.length)];
  const names: ThreadName[] = ['pack', 'encode', 'picker', ...drives];
  if (order.hindsight) names.push('keep');
  if (!passesThrough(order.game, order.recipe)) names.push('size');
  if (real) names.push(source.threads.pictures, ...source.threads.helpers);
  names.push(...soundThreads(order, memory));
  if (real && order.recipe.camera) names.push('camera');

  const waitFor: ThreadName[] = ['picker', 'encode', 'pack', ...drives];
  if (real && order.recipe.camera?.where === 'own-file') waitFor.push('camera');
  // What was asked to be kept is written to its end.
  if (order.hindsight) waitFor.push('keep');
  return { names, waitFor, neededToBegin: ['camera'] };
}
