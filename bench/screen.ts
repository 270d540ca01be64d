import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { openWindowGame, type WindowGame } from '../packages/engine/test/support/display';
import { readStripsOf } from '../packages/engine/test/support/probe';
import { fromWindow, openScreenBench, small, type ScreenBench } from '../packages/engine/test/support/screenTake';
import { atLeast, type BenchResult } from './measure';

const pairs = 5;
const seconds = 5;
const fps = 30;
/** What two runs of one and the same differ in on a machine of two cores that is shared. */
const noise = 0.95;

/** Our recorder against FFmpeg's command line with the same settings, by turns in one run: who keeps more of what the game showed. */
export async function benchScreen(): Promise<BenchResult[]> {
  const screen = await openScreenBench();
  const game = await openWindowGame(screen.display.name, screen.bench.folder, ['--size', '640x360', '--no-sound']);
  try {
    let ours = 0;
    let tools = 0;
    for (let i = 0; i < pairs; i++) {
      if (i % 2) tools += await byTool(screen, game, i);
      ours += await byUs(screen, game);
      if (i % 2 === 0) tools += await byTool(screen, game, i);
    }
    return [
      atLeast(
        `pictures kept of a window game, against FFmpeg's command line (${ours}:${tools})`,
        ours / tools,
        '',
        noise,
      ),
    ];
  } finally {
    await game.close();
    await screen.close();
  }
}

/** Pictures of the game that a file shows, each counted once. */
const keptIn = (path: string): number =>
  new Set(readStripsOf(path, small, small).flatMap(({ strip }) => strip?.number ?? [])).size;

async function byTool(screen: ScreenBench, game: WindowGame, i: number): Promise<number> {
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

async function byUs(screen: ScreenBench, game: WindowGame): Promise<number> {
  const encode = { encoder: 'avc-software', effort: 'lightest', quality: 20, keyDistanceFrames: 60 } as const;
  const take = await screen.roll(fromWindow(game.window), { fps, seconds, change: { encode } });
  return keptIn(take.result.filePath);
}
