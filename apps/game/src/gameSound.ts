import { spawn } from 'node:child_process';
import { soundChannels, sampleRateHz } from '@mellow/core';
import { addSound } from '@mellow/practice';

/** The game's sound on the PC's own output. */
export interface GameSound {
  stop(): void;
}

const everyMs = 10;
/** So much is handed over ahead of its time, so that a busy game does not run dry; the output adds a delay of its own. */
const aheadMs = 80;
const settleUs = 600_000;

/**
 * Plays the practice game's sound through the system's own player, as a game does: sample n is handed over for `startUs` +
 * n / 48 000, and heard as much later as the output takes. A system without one plays nothing, and the game says so once.
 * @param output name of the output; null: the one in use
 */
export function playGameSound(
  startUs: number,
  clicks: boolean,
  output: string | null,
  nowUs: () => number,
  say: (text: string) => void,
): GameSound {
  const player = spawn(
    'pacat',
    [
      '--playback',
      ...(output === null ? [] : ['-d', output]),
      '--raw',
      '--format=float32le',
      `--rate=${sampleRateHz}`,
      `--channels=${soundChannels}`,
      `--latency-msec=${aheadMs}`,
      '--client-name=Practice game',
      // It says when its stream is there: what was handed over before would be played late, and all after it too.
      '--verbose',
    ],
    { stdio: ['pipe', 'ignore', 'pipe'] },
  );
  let next: number | null = null;
  let begunUs = 0;
  let ready = false;
  let over = false;
  player.stderr.on('data', (bytes: Buffer) => {
    ready ||= String(bytes).includes('Stream successfully created');
    // Run dry, it begins anew when it holds enough again; what was late by then is left out. Before it has begun it says so too.
    if (String(bytes).includes('underrun') && nowUs() - begunUs > settleUs) next = null;
  });
  let timer: NodeJS.Timeout | undefined = undefined;
  function end(text: string | null): void {
    if (over) return;
    over = true;
    clearInterval(timer);
    if (text) say(text);
    player.kill();
  }
  timer = setInterval(() => {
    if (!ready) return;
    const until = Math.floor(((nowUs() - startUs + aheadMs * 1000) * sampleRateHz) / 1e6);
    if (next === null) {
      next = until - (sampleRateHz * aheadMs) / 1000;
      begunUs = nowUs();
    }
    if (until <= next) return;
    const samples = new Float32Array((until - next) * soundChannels);
    addSound(samples, 'game', next, clicks);
    next = until;
    player.stdin.write(Buffer.from(samples.buffer));
  }, everyMs);
  player.stdin.on('error', () => {});
  player.on('error', () => end('The game is silent: the system’s player (pacat, of PulseAudio) is not installed.'));
  player.on('exit', () => end('The game is silent: no sound system takes its sound.'));
  return { stop: () => end(null) };
}
