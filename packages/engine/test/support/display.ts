import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { asked, listScreens, openX11 } from '@mellow/engine';
import type { ScreenPlace, WindowFacts } from '@mellow/model';

/** A display of its own for a test: Xvfb, the X server without a screen. */
export interface TestDisplay {
  name: string;
  close(): Promise<void>;
}

export async function openDisplay(widthPx = 1280, heightPx = 800): Promise<TestDisplay> {
  const server = spawn(
    'Xvfb',
    ['-displayfd', '3', '-screen', '0', `${widthPx}x${heightPx}x24`, '-nolisten', 'tcp', '-noreset'],
    {
      stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
    },
  );
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

/** Tests and benches are run from the project's folder. */
const root = process.cwd();

/** Opens the practice game in a window, as `npm run game` does, and waits until it is there. */
let games = 0;

export async function openWindowGame(
  display: string,
  folder: string,
  args: readonly string[] = [],
  title = `Window game ${++games}`,
): Promise<WindowGame> {
  const log = join(folder, `game-${++games}.csv`);
  const child = spawn(
    process.execPath,
    [
      ...['--import', 'tsx', 'apps/game/src/main.ts', '--log', log, '--title', title],
      ...(args.includes('--output') ? [] : ['--no-sound']),
      ...args,
    ],
    { cwd: root, env: { ...process.env, DISPLAY: display }, stdio: ['ignore', 'ignore', 'inherit'] },
  );
  for (;;) {
    if (child.exitCode !== null) throw new Error(`the game ended with ${child.exitCode}`);
    const window = (await listScreens()).windows.find((one) => one.title === title);
    // Its heading and its first picture: before that the window is there, and black.
    if (window && existsSync(log) && readFileSync(log, 'utf8').split('\n').length > 2)
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

/** What a person, or a window manager, does to windows. */
export interface ScreenActs {
  cover(place: ScreenPlace): Promise<void>;
  move(windowId: number, x: number, y: number): Promise<void>;
  resize(windowId: number, widthPx: number, heightPx: number): Promise<void>;
  hide(windowId: number): Promise<void>;
  show(windowId: number): Promise<void>;
  /** Long enough that whoever looks ten times a second has looked. */
  afterLooks(): Promise<void>;
  /** Puts pixels on the screen: blue, green, red and a byte unused. */
  paint(place: ScreenPlace, pixels: Buffer): Promise<void>;
  close(): void;
}

export async function screenActs(display: string): Promise<ScreenActs> {
  const x = await openX11(display);
  const { client } = x;
  const carriedOut = async (): Promise<void> => void (await asked((reply) => client.GetInputFocus(reply)));
  const window = ({ leftPx, topPx, widthPx, heightPx }: ScreenPlace): number => {
    const id = client.AllocID();
    client.CreateWindow(id, x.root, leftPx, topPx, widthPx, heightPx, 0, 0, 1, 0, { backgroundPixel: 0x336699 });
    client.MapWindow(id);
    return id;
  };
  let cover: number | null = null;
  return {
    async cover(place) {
      if (cover !== null) client.DestroyWindow(cover);
      cover = window(place);
      await carriedOut();
    },
    async move(windowId, left, top) {
      client.MoveWindow(windowId, left, top);
      await carriedOut();
    },
    async resize(windowId, widthPx, heightPx) {
      client.ResizeWindow(windowId, widthPx, heightPx);
      await carriedOut();
    },
    async hide(windowId) {
      client.UnmapWindow(windowId);
      await carriedOut();
    },
    async show(windowId) {
      client.MapWindow(windowId);
      await carriedOut();
    },
    afterLooks: () => new Promise((resolve) => setTimeout(resolve, 700)),
    async paint(place, pixels) {
      const id = window(place);
      const context = client.AllocID();
      client.CreateGC(context, id, {});
      await carriedOut();
      client.PutImage(2, id, context, place.widthPx, place.heightPx, 0, 0, 0, x.rootDepth, pixels);
      await carriedOut();
    },
    close: () => x.close(),
  };
}
