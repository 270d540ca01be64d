import { spawn } from 'node:child_process';
import { flashField } from '@mellow/practice';
import type { MadeTake, TakeBench } from './drivenTake';
import { probePictures, readStripsOf } from './probe';
import { stereoOf, toneOf } from './tones';
import type { TestSoundSystem } from './soundSystem';

const monotonicUs = (): number => Number(process.hrtime.bigint() / 1000n);

/** First picture of each flash: microseconds of the file, and the game's number on it. */
export function flashesIn(take: MadeTake): { timeUs: number; number: number | null }[] {
  const { recipe, game } = take.order;
  const { x, y, size } = flashField(game.widthPx);
  const pictures = probePictures(take.result.filePath);
  const seen = readStripsOf(take.result.filePath, recipe.size, game).map(({ luma, strip }) => ({
    on: (luma[(y + size / 2) * recipe.size.widthPx + x + size / 2] ?? 0) > 128,
    number: strip?.number ?? null,
  }));
  return seen.flatMap(({ on, number }, i) =>
    on && !seen[i - 1]?.on ? [{ timeUs: pictures[i]?.timeUs ?? NaN, number }] : [],
  );
}

export const flashTimes = (take: MadeTake): number[] => flashesIn(take).map(({ timeUs }) => timeUs);

/** A second with a click at its beginning: 10 ms of 2 kHz, and nothing else. */
export function clickSecond(): Float32Array {
  const samples = new Float32Array(48_000 * 2);
  samples.set(toneOf(2000, 48_000, 2, -6).subarray(0, 960));
  return samples;
}

/** Where clicks begin in interleaved stereo, samples. */
export function clicksIn(stereo: Float32Array): number[] {
  const found: number[] = [];
  for (let i = 0; i < stereo.length / 2; i++)
    if (Math.abs(stereo[i * 2] ?? 0) > 0.1 && i - (found.at(-1) ?? -1e9) > 24_000) found.push(i);
  return found;
}

/**
 * A second listener at the same source, which tells when each click was heard: what the recorder made of them is held against
 * it. Chunks may come as late as the PC lets them and never early, so a sample's moment is told by the soonest chunk of the
 * seconds around it.
 */
export function listenForClicks(device: string): { stop(): void; clicksUs(): number[]; driftPpm(): number } {
  const child = spawn(
    'parec',
    ['-d', device, '--raw', '--format=float32le', '--rate=48000', '--channels=2', '--latency-msec=20'],
    {
      env: { ...process.env },
      stdio: ['ignore', 'pipe', 'ignore'],
    },
  );
  const frameBytes = 8;
  const toUs = (samples: number): number => (samples / 48_000) * 1e6;
  /** Per chunk: samples until its end, and when the first of all samples was taken, if this chunk came at once. */
  const chunks: { untilSample: number; beginUs: number }[] = [];
  const clicks: number[] = [];
  let samples = 0;
  let rest = Buffer.alloc(0);
  child.stdout.on('data', (bytes: Buffer) => {
    const nowUs = monotonicUs();
    const all = Buffer.concat([rest, bytes]);
    const whole = all.length - (all.length % frameBytes);
    for (let at = 0; at < whole; at += frameBytes, samples++)
      if (Math.abs(all.readFloatLE(at)) > 0.1 && samples - (clicks.at(-1) ?? -1e9) > 24_000) clicks.push(samples);
    rest = all.subarray(whole);
    chunks.push({ untilSample: samples, beginUs: nowUs - toUs(samples) });
  });
  const aroundSamples = 5 * 48_000;
  const soonestAround = (sample: number): number =>
    chunks.reduce(
      (soonest, { untilSample, beginUs }) =>
        Math.abs(untilSample - sample) < aroundSamples ? Math.min(soonest, beginUs) : soonest,
      Infinity,
    );
  return {
    stop: () => child.kill('SIGKILL'),
    clicksUs: () => clicks.map((sample) => toUs(sample) + soonestAround(sample)),
    /** By how much the device's clock is faster than the PC's: the middle one of the drifts over a third of the time. */
    driftPpm() {
      const apart = Math.floor(chunks.length / 150);
      const earliest = chunks.flatMap((__, i) =>
        i % 50 ? [] : [Math.min(...chunks.slice(i, i + 250).map(({ beginUs }) => beginUs))],
      );
      const spanUs = toUs((samples / chunks.length) * apart * 50);
      const drifts = earliest.slice(apart).map((us, i) => (((earliest[i] ?? NaN) - us) / spanUs) * 1e6);
      return drifts.toSorted((x, y) => x - y)[drifts.length >> 1] ?? NaN;
    },
  };
}

/** When due 0 of the take that rolls was, on the monotonic clock: the recorder's own account, by the message that came soonest. */
export function watchDueZero(bench: TakeBench): { dueZeroUs(): number; stop(): void } {
  let earliest = Infinity;
  const stop = bench.recorder().onEvent((event) => {
    if (event.type === 'live' && event.live.state === 'rolling' && event.live.elapsedUs > 0)
      earliest = Math.min(earliest, monotonicUs() - event.live.elapsedUs);
  });
  return { dueZeroUs: () => earliest, stop };
}

/** By how much each click in the file is later than it was heard, milliseconds. */
export async function clickOffsets(
  sounds: TestSoundSystem,
  bench: TakeBench,
  output: string,
  seconds: number,
): Promise<{ offsetsMs: number[]; driftPpm: number | null; heardDriftPpm: number }> {
  const player = sounds.play(output, 48_000, 'front-left,front-right', clickSecond());
  const heard = listenForClicks(`${output}.monitor`);
  const zero = watchDueZero(bench);
  const take = await bench.make({
    recipe: {
      rate: { num: 30, den: 1 },
      sounds: [
        {
          id: 'game',
          name: 'Game',
          from: { kind: 'device', device: `${output}.monitor`, words: '' },
          gainDb: 0,
          muted: false,
          opening: 'open',
        },
      ],
      lanes: [{ name: 'Game', sources: ['game'], codec: 'flac', bitrateKbps: 160 }],
    },
    size: { widthPx: 320, heightPx: 180 },
    game: { widthPx: 320, heightPx: 180 },
    order: { clock: 'real', dueFrames: seconds * 30 },
  });
  zero.stop();
  heard.stop();
  await player.stop();
  const clicks = clicksIn(stereoOf(take.result.filePath, 0)).map((at) => (at / 48_000) * 1e6 + zero.dueZeroUs());
  const heardUs = heard.clicksUs();
  const offsetsMs = clicks.flatMap((us) => {
    const nearest = heardUs.reduce((best, at) => (Math.abs(at - us) < Math.abs(best - us) ? at : best), Infinity);
    return Math.abs(nearest - us) < 400_000 ? [(us - nearest) / 1000] : [];
  });
  return { offsetsMs, driftPpm: take.result.sounds[0]?.driftPpm ?? null, heardDriftPpm: heard.driftPpm() };
}
