import {
  briefSchema,
  gameFactsSchema,
  purposes,
  recipeSchema,
  type BriefInput,
  type PracticeGame,
} from '@mellow/model';
import { kestrel, wren } from '../machine';
import { standInFacts } from '../storage';
import { plainPracticeGame, recipeFromBrief, settingFacts, settingKeys, startRecipe, type BriefContext } from './index';

const game = {
  ...plainPracticeGame,
  widthPx: 2560,
  heightPx: 1440,
  capFps: 120,
  facts: gameFactsSchema.parse({ motion: 'fast', driveId: 'kestrel-games', freeFps: 130 }),
};
const context: BriefContext = {
  game,
  machine: kestrel,
  drives: kestrel.drives.map(standInFacts),
  driveId: 'kestrel-barn',
};
const from = (brief: Partial<BriefInput>, change: Partial<BriefContext> = {}) =>
  recipeFromBrief(briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90, ...brief }), { ...context, ...change });

describe('a recipe from a brief', () => {
  it.each(purposes)('for %s fits the schema, and each reason belongs to a setting and an answer', (purpose) => {
    const { recipe, reasons } = from({ purpose });
    expect(recipeSchema.parse(recipe)).toEqual(recipe);
    for (const reason of reasons) {
      expect(settingKeys).toContain(reason.setting);
      expect(reason.text.length).toBeGreaterThan(10);
      if (reason.answer !== null) expect([1, 2, 3, 4]).toContain(reason.answer);
    }
    for (const key of [
      'rate',
      'size',
      'encoder',
      'effort',
      'quality',
      'keyDistance',
      'lanes',
      'container',
      'drive',
    ] as const)
      expect(reasons.map((r) => r.setting)).toContain(key);
  });
  it('takes the shown lines and rate: what is not shown is not filed', () => {
    expect(from({ shownLines: 1080 }).recipe.size).toMatchObject({ widthPx: 1920, heightPx: 1080 });
    expect(from({ shownLines: 2160 }).recipe.size).toMatchObject({ widthPx: 2560, heightPx: 1440 });
    expect(from({ shownFps: 30 }).recipe.rate).toEqual({ num: 30, den: 1 });
    expect(from({ purpose: 'master', shownLines: 720 }).recipe.size.heightPx).toBe(1440);
  });
  it('takes 50 Hz and NTSC rates for broadcasters only (common practice)', () => {
    expect(from({ destination: 'broadcaster', mainsHz: 50 }).recipe.rate).toEqual({ num: 50, den: 1 });
    expect(from({ destination: 'broadcaster', mainsHz: 60 }).recipe.rate).toEqual({ num: 60_000, den: 1001 });
    expect(from({ destination: 'broadcaster', mainsHz: 50, purpose: 'lesson' }).recipe.rate).toEqual({
      num: 25,
      den: 1,
    });
    expect(from({ mainsHz: 50 }).recipe.rate).toEqual({ num: 60, den: 1 });
  });
  it('records more frames for slow motion, no more than the game shows', () => {
    expect(from({ purpose: 'slow-motion', slowPercent: 50 }).recipe.rate.num).toBe(120);
    expect(from({ purpose: 'slow-motion', slowPercent: 25 }).recipe.rate.num).toBe(120);
    expect(
      from(
        { purpose: 'slow-motion', slowPercent: 25 },
        { game: { ...game, capFps: null, facts: { ...game.facts, freeFps: 300 } } },
      ).recipe.rate.num,
    ).toBe(240);
  });
  it('goes by session length and by what matters first: 18 short, 20 long, 2 finer, 3 coarser', () => {
    expect(from({ sessionMinutes: 15 }).recipe.encode.quality).toBe(18);
    expect(from({ sessionMinutes: 90 }).recipe.encode.quality).toBe(20);
    expect(from({ matters: ['picture', 'game', 'safety', 'small-files'] }).recipe.encode.quality).toBe(18);
    expect(from({ matters: ['small-files', 'game', 'safety', 'picture'] }).recipe.encode.quality).toBe(23);
  });
  it('takes a block where one was proven and software where none was', () => {
    expect(from({}).recipe.encode.encoder).toBe('avc-card');
    expect(
      from({}, { machine: wren, drives: wren.drives.map(standInFacts), driveId: 'wren-disk' }).recipe.encode,
    ).toMatchObject({ encoder: 'avc-software', effort: 'lightest' });
    expect(from({}, { machine: null }).recipe.encode.encoder).toBe('avc-software');
  });
  it('follows the editor: MP4 afterwards, key pictures every 0.5 s, codecs it opens', () => {
    expect(from({ editor: 'anything' }).recipe).toMatchObject({ container: 'matroska', rewrap: false });
    expect(from({ editor: 'mp4' }).recipe).toMatchObject({ container: 'matroska', rewrap: true });
    const old = from({ editor: 'old', shownFps: 30 }).recipe;
    expect(old.encode.keyDistanceFrames).toBe(15);
    expect(old.lanes.every((lane) => lane.codec === 'aac')).toBe(true);
  });
  it('lays the sound as asked, everything first', () => {
    expect(from({ soundLayout: 'mix' }).recipe.lanes).toHaveLength(1);
    expect(from({ soundLayout: 'voice-apart' }).recipe.lanes.map((l) => l.name)).toEqual([
      'Everything',
      'Voice',
      'Game',
    ]);
    expect(from({ soundLayout: 'every-source' }).recipe.lanes.map((l) => l.sources)).toEqual([
      ['game', 'voice', 'chat'],
      ['voice'],
      ['game'],
      ['chat'],
    ]);
  });
  it('keeps off the drive the game reads from', () => {
    expect(from({}, { driveId: 'kestrel-games' }).recipe.driveId).toBe('kestrel-barn');
    expect(from({}, { driveId: 'kestrel-attic' }).recipe.driveId).toBe('kestrel-attic');
  });
});

describe('settings', () => {
  it('are copied one at a time: all of them make the other recipe', () => {
    const a = startRecipe({ purpose: 'light', sessionMinutes: 30 }, game, 'a');
    const b = from({ purpose: 'slow-motion', editor: 'old', soundLayout: 'every-source' }).recipe;
    expect(settingKeys.reduce((into, key) => settingFacts[key].copy(b, into), a)).toEqual(b);
  });
});

describe('a start recipe and the rate a game reaches', () => {
  const rateOf = (game: Partial<PracticeGame>, freeFps: number | null, brief: Partial<BriefInput> = {}) => {
    const facts = { ...plainPracticeGame.facts, freeFps };
    const context = { game: { ...plainPracticeGame, ...game, facts }, machine: null, drives: [], driveId: 'd' };
    const { recipe, reasons } = recipeFromBrief(
      briefSchema.parse({ purpose: 'long-play', sessionMinutes: 60, ...brief }),
      context,
    );
    return { ...recipe.rate, why: reasons.find((r) => r.setting === 'rate')?.text ?? '' };
  };
  it.each<[number | null, number | null, number]>([
    [null, null, 60],
    [null, 200, 60],
    [120, 200, 60],
    [60, null, 60],
    [null, 59.8, 60],
    [null, 55, 60],
    [40, null, 30],
    [null, 40, 30],
    [null, 53, 30],
    [120, 28, 30],
    [null, 24, 24],
    [null, 12, 12],
  ])('cap %s, reaching %s: %d', (capFps, freeFps, fps) => {
    const found = rateOf({ capFps }, freeFps);
    expect(found).toMatchObject({ num: fps, den: 1 });
    if (fps < 60) expect(found.why).toContain('would be repeats');
  });
  it('says why it is not lowered to what the game shows, and knows the screens of 50 Hz', () => {
    expect(rateOf({ capFps: null }, 55).why).toContain('The game shows 55 fps');
    expect(rateOf({ capFps: null }, 40, { mainsHz: 50, shownFps: 50 })).toMatchObject({ num: 25 });
    expect(rateOf({ capFps: null }, 46, { mainsHz: 50, shownFps: 50 })).toMatchObject({ num: 50 });
  });
  it('stays in a broadcaster’s family', () => {
    expect(rateOf({ capFps: 40 }, null, { destination: 'broadcaster', mainsHz: 50 })).toMatchObject({
      num: 25,
      den: 1,
    });
    expect(rateOf({ capFps: 40 }, null, { destination: 'broadcaster', mainsHz: 60 })).toMatchObject({
      num: 30000,
      den: 1001,
    });
  });
});
