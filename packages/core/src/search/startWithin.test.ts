import fc from 'fast-check';
import {
  briefSchema,
  concerns,
  destinations,
  editors,
  purposes,
  soundLayouts,
  type BriefInput,
  type MachineSheet,
  type PracticeGame,
} from '@mellow/model';
import { testContext } from '../forecast/testContext.test-support';
import { troubles } from '../judge';
import { kestrel, wren } from '../machine';
import { recipeFromBrief, settingFacts } from '../recipe';
import { standInFacts } from '../storage';
import { lookAtLoads } from './looked';
import { startWithin } from './startWithin';

const plain = (text: string) => text.replaceAll(/[\u2009\u202f\u00a0]/g, ' ');
const speedOne: MachineSheet = {
  ...kestrel,
  cores: 4,
  coreSpeed: { ...kestrel.coreSpeed, value: 1 },
  encoders: kestrel.encoders.map((one) => ({ ...one, works: one.encoder.endsWith('software') })),
};
function start(machine: MachineSheet, game: Partial<PracticeGame>, brief: Partial<BriefInput> = {}) {
  const context = testContext({ game, brief, context: { machine, drives: machine.drives.map(standInFacts) } });
  const around = { ...context, driveId: context.drives[0]?.id ?? 'none' };
  const begun = startWithin(context.brief, around);
  return { ...begun, looked: lookAtLoads(begun.recipe, { ...context, start: begun.recipe }), context, around };
}

describe('a starting recipe', () => {
  it.each([
    ['a 4K game on a middling PC', kestrel, { widthPx: 3840, heightPx: 2160 }],
    ['a 4K game on a PC of speed 1', speedOne, { widthPx: 3840, heightPx: 2160 }],
    ['a 1440p game on a PC of speed 1', speedOne, { widthPx: 2560, heightPx: 1440 }],
    ['a wide game on a middling PC', kestrel, { widthPx: 3440, heightPx: 1440 }],
  ] as const)('of %s keeps every station within its time, where the crisp filter does not', (_, machine, game) => {
    const { recipe, reasons, looked, context, around } = start(machine, game);
    expect(troubles(looked.judged)).toEqual([]);
    expect(recipe).not.toEqual(recipeFromBrief(context.brief, around).recipe);
    const wished = recipeFromBrief(context.brief, around).recipe;
    expect(troubles(lookAtLoads(wished, context).judged).map(({ limit }) => limit)).toContain('head-room');
    expect(reasons.map(({ text }) => plain(text)).join(' ')).toMatch(/expected to take|expected to be lost|Size needs/);
  });
  it('is what the brief asks for where that holds, and where nothing is known of the machine', () => {
    const { recipe, context, around } = start(kestrel, { widthPx: 1920, heightPx: 1080 });
    expect(recipe).toEqual(recipeFromBrief(context.brief, around).recipe);
    expect(startWithin(context.brief, { ...around, machine: null })).toEqual(
      recipeFromBrief(context.brief, { ...around, machine: null }),
    );
  });
  it('goes down in several steps on a weak machine, each with its reason', () => {
    const { recipe, reasons, looked } = start(wren, { widthPx: 3840, heightPx: 2160 });
    expect(troubles(looked.judged).map(({ limit }) => limit)).not.toContain('head-room');
    const settings = reasons.map(({ setting }) => setting);
    expect(new Set(settings).size).toBe(settings.length);
    expect(recipe.size.heightPx).toBeLessThanOrEqual(1080);
    expect(reasons.filter(({ text }) => /So it is/.test(text)).length).toBeGreaterThan(1);
  });
  it('brings no limit beyond that was not, and every value has one reason in words', () => {
    const anyBrief = fc.record({
      purpose: fc.constantFrom(...purposes),
      sessionMinutes: fc.integer({ min: 1, max: 600 }),
      destination: fc.constantFrom(...destinations),
      editor: fc.constantFrom(...editors),
      soundLayout: fc.constantFrom(...soundLayouts),
      shownLines: fc.constantFrom(720, 1080, 1440, 2160),
      shownFps: fc.constantFrom(24, 30, 50, 60, 120),
      matters: fc.shuffledSubarray([...concerns], { minLength: concerns.length }),
    });
    const anySize = fc.constantFrom(
      { widthPx: 1280, heightPx: 720 },
      { widthPx: 1920, heightPx: 1080 },
      { widthPx: 2560, heightPx: 1440 },
      { widthPx: 3840, heightPx: 2160 },
    );
    fc.assert(
      fc.property(anyBrief, anySize, fc.constantFrom(kestrel, wren, speedOne), (brief, size, machine) => {
        const { looked, reasons, context, around } = start(machine, size, briefSchema.parse(brief));
        // What it was changed for is not paid for with another limit.
        const wished = troubles(lookAtLoads(recipeFromBrief(context.brief, around).recipe, context).judged);
        const known = wished.map(({ limit }) => limit);
        expect(troubles(looked.judged).filter(({ limit }) => !known.includes(limit))).toEqual([]);
        const settings = reasons.map(({ setting }) => setting);
        expect(settings.filter((one, i) => settings.indexOf(one) !== i)).toEqual([]);
        for (const { setting, text } of reasons) {
          expect(settingFacts[setting]).toBeDefined();
          expect(text).toMatch(/[.]$/);
          expect(text).not.toMatch(/undefined|NaN/);
        }
      }),
      { numRuns: 25 },
    );
  });
});
