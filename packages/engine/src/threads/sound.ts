import { sampleRateHz, soundChannels } from '@mellow/core';
import { addSound, warmUpUs } from '@mellow/practice';
import { openControl } from '../shared/control';
import { nowUs, sleepUs } from '../shared/monotonic';
import { blockBeginsUs, openSoundRingWriter, soundBlockSamples, soundBlockUs } from '../shared/soundRing';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';

/** Blocks are made two at a time on the real clock, as a sound device would bring them. */
const paceUs = 20_000;

/** Sound of the practice game and its stand-in voices: a pure function of the sample's number, brought block by block. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const sources = order.recipe.sounds.flatMap(({ id, from }) => {
    const ring = memory.sounds[id];
    return ring && from.kind === 'practice' ? [{ part: from.part, ring: openSoundRingWriter(ring) }] : [];
  });
  const samples = new Float32Array(soundBlockSamples * soundChannels);
  const firstSample = (warmUpUs / 1e6) * soundBlockSamples * 100;
  const over = () => control.get('failed') !== 0 || control.get('packDone') !== 0;
  tell({ type: 'ready', threadId: ownThreadId() });
  while (!over() && control.get('ready') === 0) control.wait('ready', 0, 200_000);
  const faults = createFaults(order, 'sound');
  let block = 0;
  while (!over()) {
    if (order.clock === 'real') {
      const readyUs = blockBeginsUs(clock, block) + soundBlockUs;
      if (readyUs > nowUs()) {
        sleepUs(Math.min(paceUs, readyUs + soundBlockUs - nowUs()));
        continue;
      }
    }
    const all = sources.every(({ part, ring }) => {
      if (ring.next() > block) return true;
      faults('frame', dueAt(block));
      samples.fill(0);
      addSound(samples, part, block * soundBlockSamples + firstSample + leftOutSamples(), order.game.strip);
      return ring.write(samples, nowUs(), 50_000);
    });
    if (all) block++;
  }
  tell({ type: 'done' });

  function dueAt(n: number): number {
    return Math.floor((n * soundBlockUs * order.recipe.rate.num) / (1e6 * order.recipe.rate.den));
  }

  /** The game goes on while the take is paused. */
  function leftOutSamples(): number {
    if (order.clock !== 'real') return 0;
    const leftOutUs = blockBeginsUs(clock, block) - block * soundBlockUs - control.figure('dueZeroUs');
    return Math.round((leftOutUs * sampleRateHz) / 1e6);
  }
});
