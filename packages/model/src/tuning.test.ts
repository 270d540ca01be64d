import {
  briefSchema,
  calibrationSchema,
  cardReportSchema,
  concerns,
  driveFactsSchema,
  encoderStateSchema,
  gameFactsSchema,
  machineOf,
  machinePatchSchema,
  machineSheetSchema,
  newSetupSchema,
  noCalibration,
  practiceGameSchema,
  predictionSchema,
  recipeCardSchema,
  recipeSchema,
  setupPatchSchema,
  setupSchema,
  type Brief,
  type MachineSheet,
  type RecipeInput,
} from './index';

/** A recipe as an earlier version stored it, without what came later. */
const early: RecipeInput = {
  rate: { num: 60, den: 1 },
  size: { widthPx: 1280, heightPx: 720, filter: 'lanczos' },
  encode: {
    effort: 'light',
    rateControl: 'constant-quality',
    quality: 20,
    bitrateKbps: 9000,
    ceilingKbps: 13_500,
    keyDistanceFrames: 120,
    closedGroups: true,
    bFrames: 0,
    lowDelay: false,
    range: 'limited',
  },
  lanes: [],
  container: 'matroska',
  driveId: 'footage',
};
const game = {
  kind: 'practice',
  title: 'Paper Comets',
  seed: 1,
  widthPx: 1280,
  heightPx: 720,
  capFps: 60,
  motion: 0.5,
  detail: 0.5,
  extraLoadUs: 0,
  passages: [{ kind: 'calm', seconds: 4 }],
  strip: false,
};
const figure = { value: 1, low: 0.5, high: 2, origin: 'assumed' as const, from: 'nobody measured it' };
const sheet: MachineSheet = {
  id: 'm',
  name: 'Somewhere',
  demo: false,
  origin: 'simulated',
  cores: 4,
  processor: 'p',
  memoryBytes: 8e9,
  system: 's',
  coreSpeed: figure,
  graphics: null,
  displays: [],
  encoders: [],
  drives: [],
  provenAt: null,
};

describe('a recipe of an earlier version', () => {
  it('is read with starting values for what it did not have', () => {
    const recipe = recipeSchema.parse(early);
    expect(recipe.encode).toMatchObject({
      encoder: 'avc-software',
      pixels: '4:2:0',
      profile: 'high',
      threads: 0,
      quantiser: 4,
    });
    expect(recipe).toMatchObject({
      rewrap: false,
      ceilingMinutes: null,
      size: { fit: 'stretch' },
      file: { subfolder: 'day' },
    });
  });
  it('goes through a second time unchanged', () => {
    const once = recipeSchema.parse(early);
    expect(recipeSchema.parse(JSON.parse(JSON.stringify(once)))).toEqual(once);
  });
});

describe('a recipe', () => {
  it.each<[string, unknown]>([
    ['a rate above 480', { ...early, rate: { num: 481, den: 1 } }],
    ['an encoder there is not', { ...early, encode: { ...early.encode, encoder: 'avc-by-hand' } }],
    ['a quality beyond every scale', { ...early, encode: { ...early.encode, quality: 64 } }],
    ['half a quality number', { ...early, encode: { ...early.encode, quality: 20.5 } }],
    ['five B-frames', { ...early, encode: { ...early.encode, bFrames: 5 } }],
    ['a picture of one line', { ...early, size: { ...early.size, heightPx: 1 } }],
    [
      '25 lanes',
      {
        ...early,
        lanes: Array.from({ length: 25 }, () => ({ name: 'x', sources: ['game'], codec: 'flac', bitrateKbps: 320 })),
      },
    ],
    ['a lane without a source', { ...early, lanes: [{ name: 'x', sources: [], codec: 'flac', bitrateKbps: 320 }] }],
    ['a name of no parts', { ...early, file: { subfolder: 'none', name: [] } }],
    ['a word there is not', { ...early, file: { subfolder: 'none', name: [{ word: 'constructor' }] } }],
    ['a ceiling of two days', { ...early, ceilingMinutes: 2880 }],
  ])('with %s is refused', (_, input) => expect(recipeSchema.safeParse(input).success).toBe(false));
});

describe('a brief', () => {
  it('needs its purpose and length only; the rest begins as most people have it', () => {
    expect(briefSchema.parse({ purpose: 'lesson', sessionMinutes: 45 })).toMatchObject({
      destination: 'video-site',
      shownLines: 1080,
      shownFps: 60,
      editor: 'anything',
      camera: 'none',
      uploadMbps: null,
    });
  });
  it('orders each concern once', () => {
    const order = (matters: readonly string[]) =>
      briefSchema.safeParse({ purpose: 'lesson', sessionMinutes: 45, matters }).success;
    expect(order([...concerns].reverse())).toBe(true);
    expect(order(['game', 'game', 'picture', 'safety'])).toBe(false);
    expect(order(['game', 'safety', 'picture'])).toBe(false);
  });
  it.each<[string, Partial<Record<keyof Brief, unknown>>]>([
    ['a session of no length', { sessionMinutes: 0 }],
    ['a mains of 55 Hz', { mainsHz: 55 }],
    ['slow motion that stands still', { slowPercent: 0 }],
    ['a line of no speed', { uploadMbps: 0 }],
  ])('with %s is refused', (_, part) =>
    expect(briefSchema.safeParse({ purpose: 'lesson', sessionMinutes: 45, ...part }).success).toBe(false),
  );
});

describe('what is known of a game', () => {
  it('is nothing at first, and "I do not know" stays an answer', () => {
    expect(gameFactsSchema.parse({})).toMatchObject({
      freeFps: null,
      motion: null,
      driveId: null,
      memoryGb: null,
      keys: [],
      limiters: [],
    });
    expect(practiceGameSchema.parse(game).facts).toEqual(gameFactsSchema.parse({}));
  });
  it('is refused where it cannot be', () => {
    expect(gameFactsSchema.safeParse({ freeFps: 0 }).success).toBe(false);
    expect(gameFactsSchema.safeParse({ motion: 'wild' }).success).toBe(false);
    expect(practiceGameSchema.safeParse({ ...game, widthPx: 641 }).success).toBe(false);
  });
});

describe('a machine', () => {
  it('is kept with a take without what only its sheet has', () => {
    expect(machineSheetSchema.parse(sheet)).toEqual(sheet);
    expect(machineOf(sheet)).toEqual({
      name: 'Somewhere',
      cores: 4,
      processor: 'p',
      memoryBytes: 8e9,
      system: 's',
      origin: 'simulated',
    });
  });
  it('has encoders that work with a figure, or do not with a reason', () => {
    const works = {
      encoder: 'avc-software',
      works: true,
      reason: null,
      workUsPerMegapixel: figure,
      byEffort: { lightest: 5000 },
    };
    expect(encoderStateSchema.safeParse(works).success).toBe(true);
    expect(encoderStateSchema.safeParse({ ...works, byEffort: { hurried: 1 } }).success).toBe(false);
    expect(
      encoderStateSchema.safeParse({ ...works, workUsPerMegapixel: { ...figure, origin: 'guessed' } }).success,
    ).toBe(false);
  });
  it('is changed in few things only', () => {
    expect(
      machinePatchSchema.safeParse({
        name: 'Attic PC',
        displays: [{ name: 'd', widthPx: 1, heightPx: 1, refreshHz: null }],
      }).success,
    ).toBe(true);
    expect(machinePatchSchema.safeParse({ processor: 'a faster one' }).success).toBe(false);
    expect(machinePatchSchema.safeParse({ cores: 0 }).success).toBe(false);
  });
});

describe('what goes over the wire', () => {
  it('begins a setup and changes it, and takes nothing that is not named', () => {
    const brief = { purpose: 'lesson', sessionMinutes: 45 };
    expect(newSetupSchema.safeParse({ name: 'x', brief, machineId: 'kestrel' }).success).toBe(true);
    expect(newSetupSchema.safeParse({ name: 'x', brief, draft: early }).success).toBe(false);
    expect(setupPatchSchema.safeParse({ locks: ['quality'] }).success).toBe(true);
    expect(setupPatchSchema.safeParse({ undoDepth: 3 }).success).toBe(false);
  });
  it('reads a setup of an earlier version as one for this PC without locks', () => {
    const recipe = recipeSchema.parse(early);
    const old = {
      id: 's',
      name: 'x',
      demo: false,
      game,
      brief: { purpose: 'lesson', sessionMinutes: 45 },
      draft: recipe,
      start: recipe,
      undoDepth: 0,
      versions: [],
      createdAt: '',
    };
    expect(setupSchema.parse(old)).toMatchObject({ machineId: 'this', locks: [] });
  });
  it('has room for what was not learnt yet', () => {
    expect(calibrationSchema.parse(noCalibration)).toEqual(noCalibration);
    const range = { value: 1, low: 0, high: 2 };
    const busiestMs = { game: null, capture: null, size: null, encode: 4, pack: null, drive: null };
    expect(
      predictionSchema.safeParse({ madeAt: '', bitsPerSecond: null, busiestMs, missesPerMinute: range, gameFps: null })
        .success,
    ).toBe(true);
    const facts = {
      id: 'd',
      name: 'Barn',
      kind: 'hard disk',
      freeBytes: null,
      totalBytes: null,
      takesBytes: 0,
      writeBytesPerSecond: null,
      deviceId: null,
      problem: null,
      simulated: true,
      folder: null,
    };
    expect(driveFactsSchema.parse(facts)).toEqual({ ...facts, largestFileBytes: null, speedTyped: false, tests: [] });
  });
});

describe('a recipe card', () => {
  const card = {
    format: 'mellow-frame-recipe-card',
    version: 1,
    name: 'x',
    madeAt: '',
    recipe: early,
    brief: { purpose: 'lesson', sessionMinutes: 45 },
    game: { title: 'x', widthPx: 1280, heightPx: 720, capFps: null, motion: 0, detail: 0 },
    machine: machineOf(sheet),
    reasons: [],
    forecast: [],
  };
  it('says which format and version it is, and no other is taken for it', () => {
    expect(recipeCardSchema.safeParse(card).success).toBe(true);
    expect(recipeCardSchema.safeParse({ ...card, version: 2 }).success).toBe(false);
    expect(recipeCardSchema.safeParse({ ...card, format: 'something else' }).success).toBe(false);
    expect(recipeCardSchema.safeParse({ ...card, recipe: { rate: 60 } }).success).toBe(false);
  });
  it('carries no more text than a page holds', () => {
    const row = { setting: 'x', value: 'x', why: 'y'.repeat(401) };
    expect(recipeCardSchema.safeParse({ ...card, reasons: [row] }).success).toBe(false);
    expect(cardReportSchema.safeParse([{ setting: 'Encoder', text: 'It does not work here.' }]).success).toBe(true);
  });
});
