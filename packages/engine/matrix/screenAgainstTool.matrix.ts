import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { openWindowGame, type WindowGame } from '../test/support/display';
import { readStripsOf } from '../test/support/probe';
import { openScreenBench, small, type ScreenBench } from '../test/support/screenTake';

/** Our recorder against FFmpeg's command line with the same settings, by turns in one run: who keeps more of what the game showed. */
jest.setTimeout(240_000);

let screen: ScreenBench;
let game: WindowGame;
beforeAll(async () => {
  screen = await openScreenBench();
  game = await openWindowGame(screen.display.name, screen.bench.folder, ['--size', '640x360', '--no-sound']);
});
afterAll(async () => {
  await game.close();
  await screen.close();
});

const pairs = 5;
const seconds = 5;
const fps = 30;

/** Pictures of the game that a file shows, each counted once. */
const keptIn = (path: string): number =>
  new Set(readStripsOf(path, small, small).flatMap(({ strip }) => strip?.number ?? [])).size;

async function byTool(i: number): Promise<number> {
  const path = join(screen.bench.folder, `tool-${i}.mkv`);
  const tool = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-f', 'x11grab', '-framerate', String(fps), '-draw_mouse', '0'],
      ...['-window_id', String(game.window.windowId), '-i', screen.display.name, '-t', String(seconds)],
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '20', '-pix_fmt', 'yuv420p', '-g', '60', path],
    ],
    { stdio: 'ignore' },
  );
  await once(tool, 'exit');
  return keptIn(path);
}

async function byUs(): Promise<number> {
  const take = await screen.roll(
    {
      kind: 'window',
      windowId: game.window.windowId,
      title: game.window.title,
      whenClosed: 'end',
      pointer: false,
      ...small,
      leftPx: 0,
      topPx: 0,
    },
    {
      fps,
      seconds,
      change: { encode: { encoder: 'avc-software', effort: 'lightest', quality: 20, keyDistanceFrames: 60 } },
    },
  );
  return keptIn(take.result.filePath);
}

it('keeps at least as many pictures of the window game', async () => {
  const kept: [us: number, tool: number][] = [];
  for (let i = 0; i < pairs; i++) {
    const first = i % 2 === 0 ? [await byUs(), await byTool(i)] : [await byTool(i), await byUs()];
    kept.push(i % 2 === 0 ? [first[0]!, first[1]!] : [first[1]!, first[0]!]);
  }
  const sum = (side: 0 | 1): number => kept.reduce((all, pair) => all + pair[side], 0);
  console.log(`kept of ${pairs} x ${seconds} s at ${fps} fps: ${kept.map((pair) => pair.join(':')).join(' ')}`);
  // Two in a hundred are this machine's noise between two runs of one and the same.
  expect(sum(0)).toBeGreaterThanOrEqual(sum(1) * 0.98);
});
