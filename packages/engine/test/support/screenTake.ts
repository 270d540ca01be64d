import { causes, fateCode, fates, type GrabbedSource, type WindowFacts } from '@mellow/model';
import { openDisplay, screenActs, type ScreenActs, type TestDisplay } from './display';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from './drivenTake';

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
  { windowId, title, leftPx, topPx, widthPx, heightPx }: WindowFacts,
  part: { pointer?: boolean; whenClosed?: 'end' | 'wait' } = {},
): GrabbedSource => ({
  kind: 'window',
  windowId,
  title,
  whenClosed: 'end',
  pointer: false,
  ...{ leftPx, topPx, widthPx, heightPx },
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
