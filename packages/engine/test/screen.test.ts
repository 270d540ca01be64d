import { listScreens } from '@mellow/engine';
import type { GrabbedSource } from '@mellow/model';
import { openWindowGame, type WindowGame } from './support/display';
import { decodePlanes } from './support/probe';
import { expectAccounted, filedOf } from './support/screenAccount';
import { causesOf, fatesOf, fromWindow, openScreenBench, small, whole, type ScreenBench } from './support/screenTake';

let screen: ScreenBench;
beforeAll(async () => void (screen = await openScreenBench()));
afterAll(() => screen.close());

describe('the window game, grabbed', () => {
  let game: WindowGame;
  beforeEach(
    async () => void (game = await openWindowGame(screen.display.name, screen.bench.folder, ['--size', '640x360'])),
  );
  afterEach(() => game.close());
  const shown = async (): Promise<ReadonlySet<number>> => {
    await game.close();
    return new Set(game.shown().map(({ frame }) => frame));
  };

  it('at 60 fps from its window, with the pointer: each picture is the one the ledger names', async () => {
    const take = await screen.roll(fromWindow(game.window, { pointer: true }), { fps: 60 });
    expect(take.result.end).toBe('length');
    expect(take.result.summary.loads.capture?.usualMs).toBeGreaterThan(0);
    expect(take.result.summary.processor?.gameShare).toBeGreaterThan(0);
    expectAccounted(take, await shown());
  });

  it('hidden, its frames are missed by Capture and said so; shown again, it goes on', async () => {
    const take = await screen.roll(fromWindow(game.window), {
      seconds: 4,
      meanwhile: async () => {
        await screen.acts.hide(game.window.windowId);
        await screen.acts.afterLooks();
        await screen.acts.show(game.window.windowId);
      },
    });
    expect(take.result.end).toBe('length');
    expect(take.log.join(' ')).toContain('The window is hidden');
    expect(causesOf(take, 'capture-miss')).toContain('no-source');
    expect(fatesOf(take).at(-1)).not.toBe('capture-miss');
  });

  it('closed, the take is ended and closed, with all there was in it', async () => {
    const take = await screen.roll(fromWindow(game.window), { seconds: 20, meanwhile: () => game.close() });
    expect([take.result.end, take.result.closedWell]).toEqual(['source-gone', true]);
    expect(take.result.endText).toContain('The window that was recorded was closed');
    expect(take.result.summary.due).toBeLessThan(600);
    expect(filedOf(take).filter(({ number }) => number !== null).length).toBeGreaterThan(10);
  });
});

describe('a display', () => {
  it('at 60 fps with the pointer: the game in it is accounted for, and its own pace shows as repeats', async () => {
    const args = ['--size', '1280x720', '--cap', '30'];
    const game = await openWindowGame(screen.display.name, screen.bench.folder, args);
    const [first] = (await listScreens()).displays;
    const { name = '', ...rest } = first ?? {};
    expect(rest).toMatchObject(whole);
    const take = await screen.roll({ kind: 'display', name, ...whole, pointer: true }, { fps: 60 });
    await game.close();
    // Which program is the game is not told of a display.
    expect(take.result.summary.processor).toBeNull();
    expectAccounted(take, new Set(game.shown().map(({ frame }) => frame)), whole);
    expect(take.result.summary.fates.repeat).toBeGreaterThan(0);
  });

  it('outside of which something was chosen is refused in words, and nothing is left', async () => {
    const outside: GrabbedSource = { kind: 'region', leftPx: 1000, topPx: 600, ...small, pointer: true };
    await expect(screen.roll(outside)).rejects.toThrow(/cannot be grabbed/);
  });
});

describe('colours of the screen', () => {
  /** Full bars of Rec. 709 in 8 bits (ITU-R BT.709: limited range; full range by the same equations). */
  const bars = [
    { rgb: [255, 0, 0], limited: [63, 102, 240], full: [54, 99, 255] },
    { rgb: [0, 255, 0], limited: [173, 42, 26], full: [182, 30, 12] },
    { rgb: [0, 0, 255], limited: [32, 240, 118], full: [18, 255, 116] },
    { rgb: [255, 255, 255], limited: [235, 128, 128], full: [255, 128, 128] },
    { rgb: [128, 128, 128], limited: [126, 128, 128], full: [128, 128, 128] },
    { rgb: [0, 0, 0], limited: [16, 128, 128], full: [0, 128, 128] },
  ] as const;
  const place = { leftPx: 0, topPx: 0, ...small };

  beforeAll(() => {
    const barPx = Math.ceil(small.widthPx / bars.length);
    const pixels = Buffer.alloc(small.widthPx * small.heightPx * 4);
    for (let at = 0; at < pixels.length; at += 4) {
      const [red, green, blue] = bars[Math.floor(((at / 4) % small.widthPx) / barPx)]!.rgb;
      pixels.set([blue, green, red, 0], at);
    }
    return screen.acts.paint(place, pixels);
  });

  it.each([
    ['limited', 'avc-software'],
    ['full', 'avc-software'],
    ['limited', 'ffv1-software'],
  ] as const)('%s range by %s: bars of Rec. 709 within two steps', async (range, encoder) => {
    const encode = {
      encoder,
      range,
      ...(encoder === 'ffv1-software' ? { rateControl: 'lossless' as const } : { quality: 10 }),
    };
    const take = await screen.roll({ kind: 'region', ...place, pointer: false }, { seconds: 1, change: { encode } });
    const [y, u, v] = decodePlanes(take.result.filePath, small);
    const barPx = small.widthPx / bars.length;
    bars.forEach((bar, i) => {
      const x = Math.round((i + 0.5) * barPx);
      const row = small.heightPx / 2;
      const chroma = (row / 2) * (small.widthPx / 2) + (x >> 1);
      const found = [y[row * small.widthPx + x], u[chroma], v[chroma]];
      found.forEach((value, plane) => expect(Math.abs(value! - bar[range][plane]!)).toBeLessThanOrEqual(2));
    });
  });
});
