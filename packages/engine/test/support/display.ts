import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { listScreens } from '@mellow/engine';
import type { WindowFacts } from '@mellow/model';

/** A display of its own for a test: Xvfb, the X server without a screen. */
export interface TestDisplay {
  name: string;
  close(): Promise<void>;
}

export async function openDisplay(widthPx = 1280, heightPx = 800): Promise<TestDisplay> {
  const server = spawn('Xvfb', ['-displayfd', '3', '-screen', '0', `${widthPx}x${heightPx}x24`, '-nolisten', 'tcp'], {
    stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
  });
  const number = await new Promise<string>((resolve, reject) => {
    server.once('error', reject);
    server.once('exit', () => reject(new Error('Xvfb ended before it was ready')));
    server.stdio[3]?.once('data', (data: Buffer) => resolve(data.toString().trim()));
  });
  return { name: `:${number}`, close: () => ended(server) };
}

async function ended(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  child.kill('SIGTERM');
  await over;
}

export interface WindowGame {
  window: WindowFacts;
  /** What the game says it has shown: number and monotonic microseconds, complete once it has ended. */
  shown(): { frame: number; shownUs: number }[];
  close(): Promise<void>;
}

const root = join(__dirname, '../../../..');

/** Opens the practice game in a window, as `npm run game` does, and waits until it is there. */
export async function openWindowGame(display: string, folder: string, args: readonly string[] = []): Promise<WindowGame> {
  const log = join(folder, `game-${Date.now()}.csv`);
  const title = `Window game ${Date.now()}`;
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', 'apps/game/src/main.ts', '--log', log, '--title', title, ...args],
    { cwd: root, env: { ...process.env, DISPLAY: display }, stdio: ['ignore', 'ignore', 'inherit'] },
  );
  for (;;) {
    if (child.exitCode !== null) throw new Error(`the game ended with ${child.exitCode}`);
    const window = (await listScreens()).windows.find((one) => one.title === title);
    if (window)
      return {
        window,
        shown: () =>
          readFileSync(log, 'utf8')
            .trim()
            .split('\n')
            .slice(1)
            .map((line) => line.split(',').map(Number))
            .map(([frame, shownUs]) => ({ frame: frame ?? 0, shownUs: shownUs ?? 0 })),
        close: () => ended(child),
      };
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
