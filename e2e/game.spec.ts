import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { readStrip } from '../packages/practice/src/strip';

const size = { widthPx: 640, heightPx: 360 };
let folder: string;
let game: ChildProcess;
test.beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-game-'))));
test.afterAll(() => {
  game.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

test('without X11 the practice game is played in a browser, moves by its keys, and logs what it showed', async ({
  page,
}) => {
  const log = join(folder, 'frames.csv');
  const env = { ...process.env, DISPLAY: '' };
  game = spawn(process.execPath, ['--import', 'tsx', 'apps/game/src/main.ts', '--size', '640x360', '--log', log], {
    env,
  });
  let said = '';
  game.stderr?.on('data', (bytes: Buffer) => void (said += String(bytes)));
  const address = () => /http:\/\/127\.0\.0\.1:\d+\//.exec(said)?.[0];
  await expect.poll(address, { timeout: 20_000 }).toBeDefined();
  expect(said).toContain("in a browser's window instead");
  await page.goto(address()!);
  await expect(page).toHaveTitle('Paper Comets');

  /** Luma of the canvas, near enough for its strip, and where its brass square begins. */
  const seen = () =>
    page.evaluate(() => {
      const canvas = document.querySelector('canvas')!;
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      const luma: number[] = [];
      let square = -1;
      for (let at = 0; at < data.length; at += 4) {
        const [red, green, blue] = [data[at]!, data[at + 1]!, data[at + 2]!];
        luma.push(Math.round(16 + (0.2126 * red + 0.7152 * green + 0.0722 * blue) * (219 / 255)));
        const brass = Math.abs(red - 0xe2) < 6 && Math.abs(green - 0xc1) < 6 && Math.abs(blue - 0x85) < 6;
        if (brass && square < 0) square = (at / 4) % canvas.width;
      }
      return { luma, square };
    });
  const numberNow = async (): Promise<number | null> =>
    readStrip(
      Uint8Array.from((await seen()).luma),
      size.widthPx,
      size.widthPx,
      size.heightPx,
      size.widthPx,
      size.heightPx,
    )?.number ?? null;
  await expect.poll(numberNow).toBeGreaterThan(5);
  const before = (await seen()).square;
  await page.keyboard.down('ArrowRight');
  await expect.poll(async () => (await seen()).square - before).toBeGreaterThan(40);
  await page.keyboard.up('ArrowRight');

  const ended = new Promise((resolve) => game.once('exit', resolve));
  await page.goto('about:blank');
  expect(await ended).toBe(0);
  const [heading, ...rows] = readFileSync(log, 'utf8').trim().split('\n');
  expect(heading).toBe('frame,shownUs');
  const frames = rows.map((row) => row.split(',').map(Number) as [number, number]);
  expect(frames.length).toBeGreaterThan(30);
  for (const [i, [frame, shownUs]] of frames.entries()) {
    if (i === 0) continue;
    expect(frame).toBeGreaterThan(frames[i - 1]![0]);
    expect(shownUs).toBeGreaterThanOrEqual(frames[i - 1]![1]);
  }
});
