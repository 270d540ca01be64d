import { causes, fateCode, fates, type GrabbedSource, type WindowFacts } from '@mellow/model';
import { openDisplay, screenActs, type ScreenActs, type TestDisplay } from './display';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from './drivenTake';
import { readStripsOf } from './probe';

/** A display, what can be done on it, and a bench whose recorder sees it. */
export interface ScreenBench {
  display: TestDisplay;
  acts: ScreenActs;
  bench: TakeBench;
  roll(source: GrabbedSource, asked?: Asked): Promise<MadeTake>;
  close(): Promise<void>;
}

export async function openScreenBench(): Promise<ScreenBench> {
  const before = process.env.DISPLAY;
  const display = await openDisplay(1280, 720);
  process.env.DISPLAY = display.name;
  const acts = await screenActs(display.name);
  const bench = await openTakeBench();
  return {
    display,
    acts,
    bench,
    roll: (source, asked) => roll(bench, source, asked),
    async close() {
      bench.close();
      acts.close();
      await display.close();
      process.env.DISPLAY = before;
    },
  };
}

export const small = { widthPx: 640, heightPx: 360 };
export const whole = { leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720 };

export interface Asked {
  fps?: number;
  seconds?: number;
  change?: TakeChange;
  /** Done while it rolls, after a second. */
  meanwhile?: () => Promise<void>;
}

async function roll(
  bench: TakeBench,
  source: GrabbedSource,
  { fps = 30, seconds = 3, change = {}, meanwhile }: Asked = {},
): Promise<MadeTake> {
  let acted: Promise<void> | null = null;
  const stop = bench.recorder().onEvent((event) => {
    if (event.type === 'live' && event.live.due >= fps && meanwhile) acted ??= meanwhile();
  });
  const take = await bench.make({
    ...change,
    recipe: { rate: { num: fps, den: 1 }, source, lanes: [], ...change.recipe },
    size: { ...small, ...change.size },
    order: { source, clock: 'real', dueFrames: seconds * fps, ...change.order },
  });
  stop();
  await acted;
  return take;
}

export const fromWindow = (
  { windowId, title, ...place }: WindowFacts,
  part: { pointer?: boolean; whenClosed?: 'end' | 'wait' } = {},
): GrabbedSource => ({
  kind: 'window',
  windowId,
  title,
  whenClosed: 'end',
  pointer: false,
  ...place,
  ...part,
});

export const fatesOf = ({ columns }: MadeTake) => Array.from(columns.fate, (code) => fates[code]);
export const causesOf = ({ columns }: MadeTake, fate: 'capture-miss' | 'repeat') => [
  ...new Set(
    Array.from(columns.cause)
      .filter((_, n) => columns.fate[n] === fateCode(fate))
      .map((code) => causes[code]),
  ),
];

/** Rows that stand in the file, each with the number its picture carries. */
export function filedOf(take: MadeTake, game = small) {
  const strips = readStripsOf(take.result.filePath, take.order.recipe.size, game);
  const rows = fatesOf(take).flatMap((fate, n) => (fate === 'new' || fate === 'repeat' ? [{ n, fate }] : []));
  expect(strips).toHaveLength(rows.length);
  return rows.map(({ n, fate }, i) => ({
    fate,
    source: take.columns.sourceFrame[n] ?? -1,
    number: strips[i]?.strip?.number ?? null,
  }));
}

/** Every picture is whole and is the one that the ledger names; nothing the game showed is counted twice or forgotten. */
export function expectAccounted(take: MadeTake, shown: ReadonlySet<number>, game = small): void {
  const { summary, presented, passedOver, notReached } = take.result;
  expect(take.log.filter((line) => !line.startsWith('Encoder'))).toEqual([]);
  const filed = filedOf(take, game);
  expect(filed.length).toBeGreaterThan(10);
  const numberOf = new Map<number, number>();
  let last = -1;
  for (const { fate, source, number } of filed) {
    expect(number).not.toBeNull();
    expect(shown.has(number ?? -1)).toBe(true);
    // One picture of the source has one number, and a newer picture a higher one.
    expect(numberOf.get(source) ?? number).toBe(number);
    if (fate === 'new') expect(number).toBeGreaterThan(last);
    else expect(number).toBe(last);
    numberOf.set(source, number ?? -1);
    last = number ?? -1;
  }
  expect(presented).toBe((summary.fates.new ?? 0) + (passedOver ?? 0) + (notReached ?? 0));
  expect(summary.due).toBe(Object.values(summary.fates).reduce((sum, count) => sum + count, 0));
}
