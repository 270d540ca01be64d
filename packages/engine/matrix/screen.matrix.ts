import { listScreens } from '@mellow/engine';
import { openWindowGame, type WindowGame } from '../test/support/display';
import {
  causesOf,
  expectAccounted,
  filedOf,
  fromWindow,
  openScreenBench,
  small,
  whole,
  type ScreenBench,
} from '../test/support/screenTake';

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
