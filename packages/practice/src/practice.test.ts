import * as fc from 'fast-check';
import { practiceGameSchema, type PracticeGame } from '@mellow/model';
import {
  addSound,
  colourOf,
  createPicture,
  drawStrip,
  frameWork,
  isStalled,
  passageAt,
  readStrip,
  soundRateHz,
  stripHeightPx,
  warmUpUs,
} from './index';

const game: PracticeGame = practiceGameSchema.parse({
  kind: 'practice',
  title: 'Paper Comets',
  seed: 7,
  widthPx: 640,
  heightPx: 360,
  capFps: 120,
  motion: 0.6,
  detail: 0.4,
  extraLoadUs: 0,
  passages: [
    { kind: 'calm', seconds: 4 },
    { kind: 'busy', seconds: 4 },
    { kind: 'loading', seconds: 2 },
  ],
  strip: true,
});

describe('colours', () => {
  // ITU-R BT.709, 8 bit limited (facts on the platform, two scalers agree).
  it.each([
    ['#FF0000', 63, 102, 240],
    ['#00FF00', 173, 42, 26],
    ['#0000FF', 32, 240, 118],
  ])('%s is %d,%d,%d', (hex, y, u, v) => expect(colourOf(hex)).toEqual({ y, u, v }));
});

describe('the number strip', () => {
  it.each([
    [640, 360],
    [1280, 720],
    [1920, 1080],
  ])('is read back exactly at %dx%d', (widthPx, heightPx) => {
    const picture = createPicture(widthPx, heightPx);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: (1 << 22) - 1 }), fc.integer({ min: 0, max: 16_383 }), (number, ms) => {
        drawStrip(picture, number, ms * 1000);
        return (
          JSON.stringify(readStrip(picture.y, widthPx, widthPx, heightPx, widthPx, heightPx)) ===
          JSON.stringify({ number, gameTimeMs: ms })
        );
      }),
      { numRuns: 60 },
    );
  });
  it('shows a tear: two frames in one picture are unreadable, and so is noise', () => {
    const picture = createPicture(640, 360);
    drawStrip(picture, 1000, 0);
    const upper = picture.y.slice(0, 640 * 180);
    drawStrip(picture, 1001, 0);
    picture.y.set(upper);
    expect(readStrip(picture.y, 640, 640, 360, 640, 360)).toBeNull();
    picture.y.fill(128);
    expect(readStrip(picture.y, 640, 640, 360, 640, 360)).toBeNull();
    expect(stripHeightPx(640)).toBe(48);
  });
});

describe('passages', () => {
  it('begin after the warm-up and come again', () => {
    expect(passageAt(game, 0).kind).toBe('calm');
    expect(passageAt(game, warmUpUs + 4.5e6).kind).toBe('busy');
    expect(passageAt(game, warmUpUs + 8.5e6).kind).toBe('loading');
    expect(passageAt(game, warmUpUs + 10.5e6).kind).toBe('calm');
    expect(isStalled(game, warmUpUs + 8.4e6)).toBe(true);
    expect(isStalled(game, warmUpUs + 1e6)).toBe(false);
  });
});

describe('work beside drawing', () => {
  const working = { ...game, extraLoadUs: 1000, helpers: 2, helperLoadUs: 600 };
  it('is more in a busy passage, and moves to the helpers while loading', () => {
    expect(frameWork(working, warmUpUs + 1e6)).toEqual({ mainUs: 1000, helperUs: 600 });
    expect(frameWork(working, warmUpUs + 5e6)).toEqual({ mainUs: 1500, helperUs: 900 });
    expect(frameWork(working, warmUpUs + 9e6)).toEqual({ mainUs: 600, helperUs: 1200 });
  });
  it('asks nothing of helpers that are not there', () => {
    expect(frameWork({ ...working, helpers: 0 }, warmUpUs + 1e6).helperUs).toBe(0);
  });
});

describe('the sound', () => {
  it('is a pure function of the sample index: pieces join to the whole', () => {
    const whole = new Float32Array(2 * 4000);
    addSound(whole, 'game', 47_000, true);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3999 }), (cut) => {
        const [a, b] = [new Float32Array(2 * cut), new Float32Array(2 * (4000 - cut))];
        addSound(a, 'game', 47_000, true);
        addSound(b, 'game', 47_000 + cut, true);
        return a.every((v, i) => v === whole[i]) && b.every((v, i) => v === whole[2 * cut + i]);
      }),
      { numRuns: 20 },
    );
  });
  it('clicks on the first sample of each second, in the game only', () => {
    const around = (source: 'game' | 'voice') => {
      const samples = new Float32Array(2 * 200);
      addSound(samples, source, soundRateHz - 100, true);
      return samples;
    };
    const clicked = around('game');
    expect(Math.max(...Array.from(clicked.slice(0, 198)).map(Math.abs))).toBeLessThan(0.2);
    expect(clicked[200]).toBeGreaterThan(0.35);
    expect(Math.max(...Array.from(around('voice')).map(Math.abs))).toBeLessThan(0.3);
  });
  it('has a voice with pauses over a steady noise floor', () => {
    const samples = new Float32Array(2 * soundRateHz * 4);
    addSound(samples, 'voice', 0, false);
    const levels = Array.from({ length: 40 }, (_, i) =>
      Math.sqrt(samples.slice(i * 9600, (i + 1) * 9600).reduce((s, v) => s + v * v, 0) / 9600),
    );
    expect(Math.max(...levels)).toBeGreaterThan(0.05);
    expect(Math.min(...levels)).toBeGreaterThan(0.0005);
    expect(Math.min(...levels)).toBeLessThan(0.005);
  });
});
