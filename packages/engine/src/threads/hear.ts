import { dueUs, errorText, isHeard, soundChannels } from '@mellow/core';
import { openControl } from '../shared/control';
import { nowUs } from '../shared/monotonic';
import { openSoundFigures, soundStateNumbers } from '../shared/soundFigures';
import { blockBeginsUs, openSoundRingWriter, soundBlockSamples, soundBlockUs } from '../shared/soundRing';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell, type ThreadMessage } from '../shared/threadPort';
import { createFaults } from './faults';
import { startHearing } from '../sound/hearing';

const everyMs = 10;
/**
 * A device that comes later than this is filled with silence. A busy PC may keep every program waiting for most of a second, which is
 * no reason to lose what was said. No longer: pictures wait in memory for it.
 */
const patienceUs = { device: 1_200_000, program: 1_200_000, page: 1_200_000, practice: 0 };
/** One that is known to be away is waited for no longer than its blocks need on their way. */
const awayPatienceUs = 100_000;
/** Nothing begins before each device has brought something, or has had so much time to. */
const mostSettlingMs = 8000;

/** Brings the sounds from outside block by block on the picture's clock: devices, programs and the page. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const figures = openSoundFigures(memory.soundFigures);
  const log = (level: 'info' | 'warn', text: string): void => tell({ type: 'log', level, text });
  const inputs = order.recipe.sounds.filter((sound) => memory.sounds[sound.id] && isHeard(sound));
  const hearing = startHearing(inputs, { pageSounds: order.pageSounds, log });
  const sounds = order.recipe.sounds.flatMap(({ id, from }, at) => {
    const [ring, sound] = [memory.sounds[id], hearing.sound(id)];
    if (!ring || !sound) return [];
    const writer = openSoundRingWriter(ring);
    // `after`: the block after the last one brought.
    return [{ at, sound, patienceUs: patienceUs[from.kind], ring: writer, after: writer.next() }];
  });
  const samples = new Float32Array(soundBlockSamples * soundChannels);
  const startedMs = performance.now();
  let settled = false;
  const faults = createFaults(order, 'hear');

  const timer = setInterval(() => {
    try {
      look();
    } catch (error) {
      end({ type: 'failed', text: errorText(error) });
    }
  }, everyMs);

  function look(): void {
    if (control.get('failed') !== 0 || control.get('packDone') !== 0) return end({ type: 'done' });
    if (!settled && (hearing.settled() || performance.now() - startedMs > mostSettlingMs)) {
      settled = true;
      tell({ type: 'ready', threadId: ownThreadId() });
    }
    for (const { at, sound } of sounds) {
      const { rateHz, channels, driftPpm, away } = sound.figures();
      figures.set(at, 'state', soundStateNumbers.indexOf(sound.state()));
      figures.set(at, 'rateHz', rateHz);
      figures.set(at, 'channels', channels);
      figures.set(at, 'driftPpm', driftPpm ?? NaN);
      figures.set(at, 'away', away);
    }
    if (control.get('ready') !== 0) for (const one of sounds) bring(one);
  }

  /** Only what lies in the file is missing from it: closing may take long, and blocks come all the while. */
  function countSilence(at: number, block: number): void {
    const frames = control.get('pickerDone') !== 0 ? control.get('dueIssued') : order.dueFrames;
    if (block * soundBlockUs < dueUs(order.recipe.rate, frames)) figures.add(at, 'silenceSamples', soundBlockSamples);
  }

  /** All blocks of a sound that have arrived, or are not waited for any longer. */
  function bring(one: (typeof sounds)[number]): void {
    const { at, sound, ring, patienceUs } = one;
    for (;;) {
      const block = ring.next();
      // Whoever mixes has gone on without: those blocks are silent.
      for (let passed = one.after; passed < block; passed++) countSilence(at, passed);
      one.after = block;
      const startUs = blockBeginsUs(clock, block);
      const lateUs = nowUs() - (startUs + soundBlockUs);
      if (lateUs < 0) return;
      faults('frame', Math.floor((block * soundBlockUs * order.recipe.rate.num) / (1e6 * order.recipe.rate.den)));
      if (!sound.read(startUs, samples)) {
        if (lateUs < (sound.state() === 'away' ? Math.min(awayPatienceUs, patienceUs) : patienceUs)) return;
        samples.fill(0);
        countSilence(at, block);
      }
      if (!ring.write(samples, nowUs(), 0)) return;
      one.after = block + 1;
    }
  }

  function end(word: ThreadMessage): void {
    clearInterval(timer);
    hearing.stop();
    tell(word);
  }
});
