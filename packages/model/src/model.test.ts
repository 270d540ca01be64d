import * as fc from 'fast-check';
import {
  causeCode,
  causes,
  causeStation,
  fateCode,
  fates,
  frameRateSchema,
  laneSchema,
  lossFates,
  newTrialSchema,
  practiceGameSchema,
  recipeSchema,
  scriptEventSchema,
  setupPatchSchema,
  stationNames,
  type Recipe,
} from './index';

const recipe: Recipe = recipeSchema.parse({
  rate: { num: 60, den: 1 },
  size: { widthPx: 1280, heightPx: 720, filter: 'lanczos' },
  encode: {
    effort: 'lightest',
    rateControl: 'constant-quality',
    quality: 20,
    bitrateKbps: 9000,
    ceilingKbps: 12_000,
    keyDistanceFrames: 120,
    closedGroups: true,
    bFrames: 0,
    lowDelay: false,
    range: 'limited',
  },
  lanes: [{ name: 'Everything', sources: ['game'], codec: 'flac', bitrateKbps: 320 }],
  container: 'matroska',
  driveId: 'footage',
});

describe('frame rates', () => {
  it('lie between 1 and 480 fps, whatever the fraction', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.integer({ min: 1, max: 100_000 }), (num, den) => {
        const fits = num / den >= 1 && num / den <= 480;
        return frameRateSchema.safeParse({ num, den }).success === fits;
      }),
    );
  });
  it.each([
    [0, 1],
    [30, 0],
    [29.97, 1],
    [-60, 1],
  ])('refuses %d/%d', (num, den) => {
    expect(frameRateSchema.safeParse({ num, den }).success).toBe(false);
  });
});

describe('recipes', () => {
  it('fit as they are', () => expect(recipeSchema.parse(recipe)).toEqual(recipe));
  it.each<[string, (r: Recipe) => unknown]>([
    ['a quality number above the scale', (r) => ({ ...r, encode: { ...r.encode, quality: 64 } })],
    ['half a quality number', (r) => ({ ...r, encode: { ...r.encode, quality: 20.5 } })],
    ['an effort there is not', (r) => ({ ...r, encode: { ...r.encode, effort: 'heroic' } })],
    ['a filter there is not', (r) => ({ ...r, size: { ...r.size, filter: 'magic' } })],
    ['25 lanes', (r) => ({ ...r, lanes: Array(25).fill(r.lanes[0]) })],
    ['a lane without a source', (r) => ({ ...r, lanes: [{ ...r.lanes[0], sources: [] }] })],
    ['no drive', (r) => ({ ...r, driveId: '' })],
    ['a container there is not', (r) => ({ ...r, container: 'tape' })],
    ['a picture of no width', (r) => ({ ...r, size: { ...r.size, widthPx: 0 } })],
  ])('do not fit with %s', (_, change) => expect(recipeSchema.safeParse(change(recipe)).success).toBe(false));
  it('trim the names of lanes', () => {
    expect(laneSchema.parse({ ...recipe.lanes[0], name: '  Voice ' }).name).toBe('Voice');
    expect(laneSchema.safeParse({ ...recipe.lanes[0], name: '   ' }).success).toBe(false);
  });
});

describe('fates and causes', () => {
  it('have codes that go both ways', () => {
    for (const fate of fates) expect(fates[fateCode(fate)]).toBe(fate);
    for (const cause of causes) expect(causes[causeCode(cause)]).toBe(cause);
  });
  it('charge every cause to a station or to none', () => {
    expect(Object.keys(causeStation).sort()).toEqual([...causes].sort());
    for (const station of Object.values(causeStation))
      expect(station === null || stationNames.includes(station)).toBe(true);
  });
  it('know three kinds of loss, and a repeat is none', () => {
    expect(lossFates).toHaveLength(3);
    expect(lossFates).not.toContain('repeat');
  });
});

describe('what comes over HTTP', () => {
  it('offers 10 s where no length is given, and has bounds', () => {
    expect(newTrialSchema.parse({})).toEqual({ lengthS: 10, kind: 'trial' });
    expect(newTrialSchema.safeParse({ lengthS: 1 }).success).toBe(false);
    expect(newTrialSchema.safeParse({ lengthS: 601 }).success).toBe(false);
  });
  it('takes no field that is not known', () => {
    expect(setupPatchSchema.safeParse({ demo: true }).success).toBe(false);
    expect(setupPatchSchema.safeParse({}).success).toBe(true);
  });
  it('a game has even sides and a cap that can be kept', () => {
    const game = {
      kind: 'practice',
      title: 'x',
      seed: 1,
      widthPx: 640,
      heightPx: 360,
      capFps: null,
      motion: 0,
      detail: 0,
      extraLoadUs: 0,
      passages: [{ kind: 'calm', seconds: 4 }],
      strip: false,
    };
    expect(practiceGameSchema.safeParse(game).success).toBe(true);
    expect(practiceGameSchema.safeParse({ ...game, widthPx: 641 }).success).toBe(false);
    expect(practiceGameSchema.safeParse({ ...game, capFps: 5 }).success).toBe(false);
    expect(practiceGameSchema.safeParse({ ...game, passages: [] }).success).toBe(false);
  });
  it('a scripted event needs what its kind needs', () => {
    expect(scriptEventSchema.safeParse({ kind: 'encode-takes', fromDue: 0, toDue: 5, serviceUs: 10 }).success).toBe(
      true,
    );
    expect(scriptEventSchema.safeParse({ kind: 'encode-takes', fromDue: 0, toDue: 5 }).success).toBe(false);
    expect(scriptEventSchema.safeParse({ kind: 'rain', fromDue: 0, toDue: 5 }).success).toBe(false);
  });
});
