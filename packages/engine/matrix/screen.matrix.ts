import { fitInto, plainPracticeGame, startRecipe, withEncoder } from '@mellow/core';
import { listScreens } from '@mellow/engine';
import type { EncoderName, Recipe, ScreenPlace } from '@mellow/model';
import { decodeRgb } from '../test/support/probe';
import { openWindowGame, type WindowGame } from '../test/support/display';
import { expectAccounted, filedOf } from '../test/support/screenAccount';
import { causesOf, fromWindow, openScreenBench, small, whole, type ScreenBench } from '../test/support/screenTake';

jest.setTimeout(240_000);

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

  it.each([
    [30, 'window', false],
    [30, 'region', true],
    [60, 'region', false],
    [30, 'region', false],
    [24, 'window', true],
    [50, 'region', true],
  ] as const)(
    'at %i fps from a %s, pointer %s: each picture is the one the ledger names',
    async (fps, kind, pointer) => {
      const place = { leftPx: game.window.leftPx, topPx: game.window.topPx, ...small };
      const source = kind === 'window' ? fromWindow(game.window, { pointer }) : { kind, ...place, pointer };
      const take = await screen.roll(source, { fps });
      expect(take.result.end).toBe('length');
      expect(take.result.summary.loads.capture?.usualMs).toBeGreaterThan(0);
      if (kind === 'window') expect(take.result.summary.processor?.gameShare).toBeGreaterThan(0);
      else expect(take.result.summary.processor).toBeNull();
      expectAccounted(take, await shown());
    },
  );

  it('covered by another window, it is recorded whole', async () => {
    const take = await screen.roll(fromWindow(game.window), {
      meanwhile: () => screen.acts.cover({ ...whole, leftPx: 100 }),
    });
    expectAccounted(take, await shown());
  });

  it('moved, it is followed; made larger, it is scaled into the frame that was begun, which is said', async () => {
    const take = await screen.roll(fromWindow(game.window), {
      meanwhile: async () => {
        await screen.acts.move(game.window.windowId, 200, 120);
        await screen.acts.resize(game.window.windowId, 1280, 720);
      },
    });
    expect(take.result.facts?.picture).toMatchObject(small);
    expect(take.log.join(' ')).toContain('The window is 1280 × 720 now');
    // The game draws on into a quarter of it: its strip comes down to half its size, and is none for readers of the whole.
    expect(
      filedOf(take)
        .slice(0, 20)
        .every(({ number }) => number !== null),
    ).toBe(true);
    expect(filedOf(take).at(-1)?.number).toBeNull();
  });

  it('closed, and waited for: a window of the same title is taken up', async () => {
    let again: WindowGame | null = null;
    const take = await screen.roll(fromWindow(game.window, { whenClosed: 'wait' }), {
      seconds: 8,
      meanwhile: async () => {
        await game.close();
        again = await openWindowGame(
          screen.display.name,
          screen.bench.folder,
          ['--size', '640x360'],
          game.window.title,
        );
      },
    });
    await (again as WindowGame | null)?.close();
    expect(take.result.end).toBe('length');
    expect(take.log.join(' ')).toContain('waits for one of the same title');
    const numbers = filedOf(take).map(({ number }) => number ?? -1);
    // The second game counts from its own beginning.
    const read = numbers.filter((number) => number >= 0);
    expect(read.some((number, i) => i > 0 && number < read[i - 1]!)).toBe(true);
  });
});

describe('a display', () => {
  it.each([
    [30, false],
    [25, true],
  ])('at %i fps, pointer %s: the game in it is accounted for', async (fps, pointer) => {
    const game = await openWindowGame(screen.display.name, screen.bench.folder, ['--size', '1280x720', '--cap', '30']);
    const [first] = (await listScreens()).displays;
    const { name = '', ...rest } = first ?? {};
    expect(rest).toMatchObject(whole);
    const take = await screen.roll({ kind: 'display', name, ...whole, pointer }, { fps });
    await game.close();
    expectAccounted(take, new Set(game.shown().map(({ frame }) => frame)), whole);
  });

  it('that stands still is one new picture and repeats, and holds nothing up', async () => {
    const take = await screen.roll({ kind: 'region', leftPx: 0, topPx: 0, ...small, pointer: false });
    expect(take.result.summary.fates.new).toBe(1);
    expect(take.result.summary.fates.repeat).toBeGreaterThan(60);
    expect(causesOf(take, 'repeat')).toEqual(['stalled']);
  });
});

/** Which columns of the source lie in which of the file's. */
function acrossOf(source: ScreenPlace, { size }: Recipe): Record<'from' | 'to', { leftPx: number; widthPx: number }> {
  const { picture, barsPx, cutShare } = fitInto(source, size, size.fit);
  const cut = size.widthPx / source.widthPx < size.heightPx / source.heightPx ? cutShare : 0;
  const widthPx = source.widthPx * (1 - cut);
  return {
    from: { leftPx: (source.widthPx - widthPx) / 2, widthPx },
    to: { leftPx: barsPx.side, widthPx: picture.widthPx },
  };
}

describe('colours of the screen through every kind of pixel', () => {
  const bars = [
    [255, 0, 0],
    [0, 255, 0],
    [0, 0, 255],
    [255, 255, 255],
    [90, 130, 200],
    [0, 0, 0],
  ] as const;
  // Odd sides: a window has the size it has.
  const odd = { leftPx: 3, topPx: 5, widthPx: 641, heightPx: 361 };

  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');

  beforeAll(() => {
    const pixels = Buffer.alloc(odd.widthPx * odd.heightPx * 4);
    for (let at = 0; at < pixels.length; at += 4) {
      const x = (at / 4) % odd.widthPx;
      const [red, green, blue] = bars[Math.min(bars.length - 1, Math.floor((x * bars.length) / odd.widthPx))]!;
      pixels.set([blue, green, red, 0], at);
    }
    return screen.acts.paint(odd, pixels);
  });

  it.each<[EncoderName, Partial<Recipe['encode']>, Partial<Recipe['size']>]>([
    ['avc-software', { pixels: '4:2:0', quality: 8 }, {}],
    ['avc-software', { pixels: '4:4:4', quality: 8, range: 'full' }, { fit: 'fill' }],
    ['avc-software', { pixels: 'rgb', rateControl: 'lossless' }, { fit: 'stretch' }],
    ['hevc-software', { pixels: '4:2:0', quality: 8, range: 'full' }, { fit: 'bars', widthPx: 640, heightPx: 480 }],
    ['hevc-software', { pixels: '4:4:4', quality: 8 }, { fit: 'fill', widthPx: 320, heightPx: 240 }],
    ['av1-software', { pixels: '4:2:0', quality: 8 }, { fit: 'bars', widthPx: 480, heightPx: 270 }],
    ['ffv1-software', { pixels: 'rgb' }, { fit: 'bars', widthPx: 854, heightPx: 480 }],
    ['ffv1-software', { pixels: '4:4:4' }, { filter: 'nearest' }],
    ['utvideo-software', { pixels: '4:2:0' }, { filter: 'area', widthPx: 320, heightPx: 180 }],
    ['utvideo-software', { pixels: 'rgb' }, { filter: 'bilinear' }],
    ['mjpeg-software', { quantiser: 1 }, { fit: 'fill' }],
  ])('%s %o %o: each bar has its colour, and every picture is there', async (encoder, encode, size) => {
    const plain = withEncoder(start, encoder).encode;
    const take = await screen.roll(
      { kind: 'region', ...odd, pointer: false },
      { seconds: 2, change: { recipe: { container: 'matroska' }, encode: { ...plain, ...encode }, size } },
    );
    expect([take.result.end, take.result.closedWell]).toEqual(['length', true]);
    const { widthPx, heightPx } = take.order.recipe.size;
    const rgb = decodeRgb(take.result.filePath);
    expect(rgb.length % (widthPx * heightPx * 3)).toBe(0);
    expect(rgb.length / (widthPx * heightPx * 3)).toBe(take.result.summary.filed);
    const last = rgb.subarray(rgb.length - widthPx * heightPx * 3);
    const { from, to } = acrossOf(odd, take.order.recipe);
    bars.forEach((bar, i) => {
      const inSource = ((i + 0.5) * odd.widthPx) / bars.length;
      if (inSource < from.leftPx + 20 || inSource > from.leftPx + from.widthPx - 20) return;
      const x = Math.round(to.leftPx + ((inSource - from.leftPx) * to.widthPx) / from.widthPx);
      const at = ((heightPx >> 1) * widthPx + x) * 3;
      bar.forEach((value, plane) => expect(Math.abs((last[at + plane] ?? 0) - value)).toBeLessThanOrEqual(6));
    });
  });
});
