import { kestrel, wren } from '../machine';
import { cameraSchema, practiceSounds, practiceSource, recipeCardSchema, type Source } from '@mellow/model';
import { forecastOf } from '../forecast';
import { withEncoder } from '../codec';
import { goodRecipe, testContext } from '../forecast/testContext.test-support';
import { recipeFromBrief } from '../recipe';
import { standInFacts } from '../storage';
import { cardMarkdown, fitCard, recipeCardOf } from './index';

const context = testContext();
const recipe = goodRecipe(context.game, context.brief);
const { reasons } = recipeFromBrief(context.brief, {
  game: context.game,
  machine: context.machine,
  drives: context.drives,
  driveId: recipe.driveId,
});
const input = {
  name: 'Comets',
  madeAt: '2026-11-25T12:00:00Z',
  recipe,
  context,
  forecast: forecastOf(recipe, context),
  reasons,
};
const card = recipeCardOf(input);
const here = {
  game: context.game,
  brief: context.brief,
  machine: kestrel,
  drives: kestrel.drives.map(standInFacts),
  driveId: 'kestrel-attic',
  source: practiceSource,
  sounds: practiceSounds,
  camera: null,
};
const window: Source = {
  kind: 'window',
  windowId: 7,
  title: 'Private letters',
  whenClosed: 'end',
  ...{ leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720, pointer: true },
};

describe('a recipe card', () => {
  it('fits its schema and survives JSON', () =>
    expect(recipeCardSchema.parse(JSON.parse(JSON.stringify(card)))).toEqual(card));
  it('shows the settings that count, with their reasons, and no figure without its origin', () => {
    expect(card.reasons.map((r) => r.setting)).toEqual(
      expect.arrayContaining(['Encoder', 'Quality', 'Frame rate', 'File type']),
    );
    expect(card.reasons.map((r) => r.setting)).not.toContain('Bitrate');
    expect(card.reasons.find((r) => r.setting === 'Quality')?.why).toMatch(/long session/);
    expect(card.forecast.every((f) => f.origin.length > 3)).toBe(true);
  });
  it('is a readable page in Markdown: a table of settings, one of figures, and the steps', () => {
    const text = cardMarkdown(card);
    expect(text).toMatch(/^# Comets\n/);
    expect(text).toContain('Made for Kestrel (simulated), 8 cores');
    expect(text.match(/^\d+\. /gm)).toHaveLength(card.reasons.length);
    for (const line of text.split('\n').filter((l) => l.startsWith('|'))) expect(line.split('|')).toHaveLength(5);
  });
  it('says so where its machine is not known, and makes none up', () => {
    const without = recipeCardOf({
      name: 'x',
      madeAt: '',
      recipe,
      context: { ...context, machine: null },
      forecast: forecastOf(recipe, context),
      reasons,
    });
    expect(recipeCardSchema.parse(without).machine).toBeNull();
    expect(cardMarkdown(without)).toContain('Made for a machine that is not known any more.');
  });
  it('takes nothing along of somebody’s screen, and leaves one’s own source as it is', () => {
    const shared = recipeCardOf({ ...input, recipe: { ...recipe, source: window } });
    expect(JSON.stringify(shared)).not.toContain('Private');
    expect(fitCard(shared, { ...here, source: window }).recipe.source).toEqual(window);
  });
  it('takes no camera of anybody along, and puts one’s own in its place', () => {
    const camera = cameraSchema.parse({
      from: { kind: 'device', device: '/dev/video0', name: 'Camera of my sister' },
      where: 'beside',
      fps: 60,
    });
    const shared = recipeCardOf({ ...input, recipe: { ...recipe, camera, encode: { ...recipe.encode, card: 2 } } });
    expect(JSON.stringify(shared)).not.toContain('sister');
    expect(cardMarkdown(shared)).toContain('stand-in camera beside the game');
    expect(shared.recipe.encode.card).toBeNull();
    expect(fitCard(shared, here).recipe.camera).toEqual({ ...camera, from: { kind: 'stand-in' } });
    const own = { ...camera, where: 'over' as const, fps: 30 };
    expect(fitCard(shared, { ...here, camera: own }).recipe.camera).toEqual(camera);
    // A recipe without a camera stays without.
    expect(fitCard(card, { ...here, camera: own }).recipe.camera).toBeNull();
  });
  it('comes in whole where everything fits', () => expect(fitCard(card, here)).toEqual({ recipe, report: [] }));
  it('reports what does not fit: encoder, drive, size of the game, its title', () => {
    const { recipe: fitted, report } = fitCard(card, {
      ...here,
      machine: wren,
      drives: wren.drives.map(standInFacts),
      driveId: 'wren-disk',
      game: { ...context.game, title: 'Other', widthPx: 1366, heightPx: 768 },
    });
    expect(report.map((line) => line.setting)).toEqual(['Encoder', 'Drive', 'Size', 'Game']);
    expect(report[0]?.text).toContain('these graphics have no encoder block');
    expect(fitted).toMatchObject({ driveId: 'wren-disk', encode: { encoder: 'avc-software' } });
    // The number that looks the same on the other encoder.
    expect(fitted.encode.quality).toBe(withEncoder(recipe, 'avc-software').encode.quality);
  });
});
