import type { Recipe } from '@mellow/model';
import { formatKbps, formatRate, formatSize } from '../units';
import { containerWords, effortWords, filterWords, laneWords, rateControlWords } from './words';

/** What differs from one recipe to the next, in words, along the path: "quality 20 to 18". */
export function recipeDifferences(from: Recipe, to: Recipe): string[] {
  const words: string[] = [];
  const add = (name: string, a: string, b: string) => {
    if (a !== b) words.push(`${name} ${a} to ${b}`);
  };
  add('frame rate', formatRate(from.rate), formatRate(to.rate));
  add('size', formatSize(from.size.widthPx, from.size.heightPx), formatSize(to.size.widthPx, to.size.heightPx));
  add('filter', filterWords[from.size.filter].method, filterWords[to.size.filter].method);
  add('effort', effortWords[from.encode.effort], effortWords[to.encode.effort]);
  const a = from.encode;
  const b = to.encode;
  add('rate control', rateControlWords[a.rateControl], rateControlWords[b.rateControl]);
  if (b.rateControl === 'constant-quality') add('quality', String(a.quality), String(b.quality));
  else add('bitrate', formatKbps(a.bitrateKbps), formatKbps(b.bitrateKbps));
  if (b.rateControl === 'variable-bitrate') add('ceiling', formatKbps(a.ceilingKbps), formatKbps(b.ceilingKbps));
  if (a.keyDistanceFrames !== b.keyDistanceFrames) words.push(`key pictures every ${a.keyDistanceFrames} to ${b.keyDistanceFrames} frames`);
  add('groups', a.closedGroups ? 'closed' : 'open', b.closedGroups ? 'closed' : 'open');
  add('B-frames', String(a.bFrames), String(b.bFrames));
  add('low delay', a.lowDelay ? 'on' : 'off', b.lowDelay ? 'on' : 'off');
  add('range', a.range, b.range);
  add('lanes', from.lanes.map(laneWords).join('; ') || 'none', to.lanes.map(laneWords).join('; ') || 'none');
  add('sources', from.lanes.map((l) => l.sources.join('+')).join('; '), to.lanes.map((l) => l.sources.join('+')).join('; '));
  add('file type', containerWords[from.container].name, containerWords[to.container].name);
  if (from.driveId !== to.driveId) words.push('another drive');
  return words;
}

export const sameRecipe = (a: Recipe, b: Recipe): boolean => recipeDifferences(a, b).length === 0 && JSON.stringify(a.encode) === JSON.stringify(b.encode);
