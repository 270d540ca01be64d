import { spawn } from 'node:child_process';
import { nowUs } from '../shared/monotonic';
import type { FeedListener, SoundFeed } from './feed';
import { samplesOfPcm } from './pcm';
import { pulseEnvironment, type PulseTap } from './pulseList';

/** Chunks of so much; shorter ones cost more and bring nothing, as blocks are mixed 10 ms at a time. */
const latencyMs = 20;
/**
 * Samples are kept back for so long: when a device goes, the system moves our stream to another one and says so, and nobody
 * has asked for what comes then.
 */
const heldUs = 40_000;
const clientName = 'Mellow Frame';

/** Arguments that record a tap as it is, in its own rate and channels: what is changed, is changed here. */
export const parecArguments = (tap: PulseTap): string[] => [
  ...(tap.streamIndex === null ? ['-d', tap.source] : [`--monitor-stream=${tap.streamIndex}`]),
  '--raw',
  // It says when the system moves the stream to another device.
  '--verbose',
  '--format=float32le',
  `--rate=${tap.rateHz}`,
  `--channels=${tap.channels.length}`,
  `--channel-map=${tap.channelMap}`,
  `--latency-msec=${latencyMs}`,
  `--client-name=${clientName}`,
  `--stream-name=${tap.words}`,
];

/** Records a tap by a process of its own. */
export function openPulseFeed(tap: PulseTap, listener: FeedListener): SoundFeed & { processId: number | null } {
  const child = spawn('parec', parecArguments(tap), { env: pulseEnvironment(), stdio: ['ignore', 'pipe', 'pipe'] });
  const frameBytes = tap.channels.length * 4;
  let rest: Buffer = Buffer.alloc(0);
  const held: { samples: Float32Array; arrivalUs: number }[] = [];
  let said = '';
  let stopped = false;
  listener.begins({ rateHz: tap.rateHz, channels: tap.channels });
  child.stdout.on('data', (bytes: Buffer) => {
    if (stopped) return;
    const all = rest.length ? Buffer.concat([rest, bytes]) : bytes;
    const whole = all.length - (all.length % frameBytes);
    rest = Buffer.from(all.subarray(whole));
    if (whole) held.push({ samples: samplesOfPcm(all.subarray(0, whole), 'f32'), arrivalUs: nowUs() });
    while (held[0] && nowUs() - held[0].arrivalUs >= heldUs) {
      const { samples, arrivalUs } = held.shift() as (typeof held)[number];
      listener.samples(samples, arrivalUs);
    }
  });
  child.stderr.on('data', (bytes: Buffer) => {
    said =
      String(bytes)
        .trim()
        .split(/[\r\n]+/)
        .pop() ?? '';
    const moved = /Stream moved to device (\S+)/.exec(String(bytes))?.[1];
    if (moved === undefined || moved === tap.source || stopped) return;
    stopped = true;
    child.kill('SIGKILL');
    listener.ended(`${tap.words} is not connected to this PC now.`);
  });
  child.on('error', (error) => {
    if (!stopped) listener.ended(error.message);
  });
  child.on('exit', () => {
    if (!stopped) listener.ended(said || 'It ended by itself.');
  });
  return {
    processId: child.pid ?? null,
    stop() {
      stopped = true;
      child.kill('SIGKILL');
    },
  };
}
