import { listScreens } from '@mellow/engine';
import { causes, fates } from '@mellow/core';
import type { GrabbedSource } from '@mellow/model';
import { openDisplay, openWindowGame, type TestDisplay, type WindowGame } from './support/display';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { readStripsOf } from './support/probe';

let display: TestDisplay;
let bench: TakeBench;
const before = process.env.DISPLAY;
beforeAll(async () => {
  display = await openDisplay();
  process.env.DISPLAY = display.name;
  bench = await openTakeBench();
});
afterAll(async () => {
  bench.close();
  await display.close();
  process.env.DISPLAY = before;
});

const size = { widthPx: 640, heightPx: 360 };
const roll = (source: GrabbedSource, fps: number, dueFrames = 4 * fps): Promise<MadeTake> =>
  bench.make({
    recipe: { rate: { num: fps, den: 1 }, source, lanes: [] },
    size,
    order: { source, clock: 'real', dueFrames },
  });
const windowSource = ({ windowId, title, ...place }: WindowGame['window'], pointer = false): GrabbedSource => ({
  kind: 'window',
  windowId,
  title,
  whenClosed: 'end',
  ...place,
  pointer,
});

describe('what is shown here', () => {
  it('is listed: the display, and the game’s window where it lies', async () => {
    const game = await openWindowGame(display.name, bench.folder, ['--size', '640x360']);
    const { displays, windows, trouble } = await listScreens();
    expect(trouble).toBeNull();
    expect(displays).toMatchObject([{ leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 800 }]);
    expect(windows.map((one) => [one.widthPx, one.heightPx])).toContainEqual([640, 360]);
    await game.close();
  });
});

describe('the window game, recorded', () => {
  let game: WindowGame;
  beforeAll(async () => void (game = await openWindowGame(display.name, bench.folder, ['--size', '640x360'])));
  afterAll(() => game.close());

  it('from its window', async () => {
    const take = await roll(windowSource(game.window), 30);
    console.log(JSON.stringify(take.result.summary.losses ?? take.result.summary), take.log, take.result.presented, take.result.passedOver, take.result.notReached);
    const strips = readStripsOf(take.result.filePath, size, size);
    console.log(strips.map((s) => s.strip?.number ?? 'x').join(' '));
    console.log(Array.from(take.columns.fate).map((f, i) => fates[f] + (take.columns.cause[i] ? ':' + causes[take.columns.cause[i]!] : '')).join(' '));
  });
});
