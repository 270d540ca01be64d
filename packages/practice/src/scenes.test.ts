import { practiceScenes, practiceGameSchema, type PracticeGame, type PracticeSceneName } from '@mellow/model';
import {
  createPicture,
  passageAt,
  plan,
  planSide,
  practiceScene,
  readStrip,
  slotTimeUs,
  walkerAt,
  type Picture420,
  type Scene,
} from './index';

const gameOf = (scene: PracticeSceneName, change: Partial<PracticeGame> = {}): PracticeGame => ({
  ...practiceGameSchema.parse({
    kind: 'practice',
    scene,
    title: 'A game',
    seed: 7,
    widthPx: 640,
    heightPx: 360,
    capFps: 60,
    motion: 0.6,
    detail: 0.4,
    extraLoadUs: 0,
    passages: [
      { kind: 'calm', seconds: 4 },
      { kind: 'busy', seconds: 4 },
      { kind: 'loading', seconds: 2 },
    ],
    strip: false,
  }),
  ...change,
});
const bytesOf = ({ y, u, v }: Picture420): Buffer => Buffer.concat([y, u, v]);
/** Making a scene takes longer than drawing it, so one of each is kept. */
const scenes = new Map<string, Scene>();
function sceneOf(game: PracticeGame): Scene {
  const key = JSON.stringify(game);
  const scene = scenes.get(key) ?? practiceScene(game);
  scenes.set(key, scene);
  return scene;
}
const drawn = (game: PracticeGame, slot: number): Buffer => {
  const picture = createPicture(game.widthPx, game.heightPx);
  sceneOf(game).draw(picture, slot);
  return bytesOf(picture);
};
const extremes = (plane: Uint8Array): [number, number] => {
  let [least, most] = [255, 0];
  for (const value of plane) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return [least, most];
};

/** Slots in the calm, the busy (rain, night) and the loading passage, and one after all have come round. */
const slots = [0, 130, 380, 500, 640, 1900];

describe.each(practiceScenes)('%s', (name) => {
  it('draws the same picture for the same seed and number, whatever was drawn before', () => {
    const game = gameOf(name, { strip: true });
    const other = practiceScene(game);
    const picture = createPicture(640, 360);
    for (const slot of slots.toReversed()) {
      other.draw(picture, slot);
      expect(Buffer.compare(bytesOf(picture), drawn(game, slot))).toBe(0);
    }
    expect(Buffer.compare(drawn(game, 130), drawn({ ...game, seed: 8 }, 130))).not.toBe(0);
  });
  it.each([
    [640, 360],
    // Widths that are no multiple of four, and a tall one.
    [854, 480],
    [322, 182],
    [480, 854],
  ])(
    'covers the whole picture at %dx%d and stays inside limited range (ITU-R BT.709: 16 to 235, 16 to 240)',
    (widthPx, heightPx) => {
      for (const seed of [1, 20, 51]) {
        const game = gameOf(name, { widthPx, heightPx, seed });
        const scene = practiceScene(game);
        const [a, b] = [createPicture(widthPx, heightPx), createPicture(widthPx, heightPx)];
        for (const slot of slots) {
          // What stood in the memory before must not be seen: a low value there, a high one here.
          for (const plane of [a.y, a.u, a.v]) plane.fill(1);
          for (const plane of [b.y, b.u, b.v]) plane.fill(254);
          scene.draw(a, slot);
          scene.draw(b, slot);
          expect(Buffer.compare(bytesOf(a), bytesOf(b))).toBe(0);
          expect(extremes(a.y).map((value) => value >= 16 && value <= 235)).toEqual([true, true]);
          expect([...extremes(a.u), ...extremes(a.v)].every((value) => value >= 16 && value <= 240)).toBe(true);
        }
      }
    },
  );
  it('carries the number strip in every passage', () => {
    const game = gameOf(name, { strip: true });
    const picture = createPicture(640, 360);
    for (const slot of slots) {
      sceneOf(game).draw(picture, slot);
      expect(readStrip(picture.y, 640, 640, 360, 640, 360)?.number).toBe(slot);
    }
  });
  it('changes from frame to frame while it moves', () => {
    const game = gameOf(name);
    expect(Buffer.compare(drawn(game, 130), drawn(game, 131))).not.toBe(0);
  });
});

const changedShare = (game: PracticeGame, from: number, to: number): number => {
  const [a, b] = [drawn(game, from), drawn(game, to)];
  let changed = 0;
  for (let i = 0; i < 640 * 360; i++) if (Math.abs((a[i] ?? 0) - (b[i] ?? 0)) > 24) changed++;
  return changed / (640 * 360);
};

describe('paper comets', () => {
  it('moves with motion and hardly without', () => {
    const share = (motion: number): number => changedShare(gameOf('paper-comets', { motion }), 250, 256);
    expect(share(1)).toBeGreaterThan(share(0) * 1.5);
  });
});

describe('harrow vale', () => {
  // Slots at 60 a second: the ledger lies open from 6 to 10 s of each 14; passages begin at 2 s.
  it('stands still while its ledger is read, but for what moves beside it', () => {
    const game = gameOf('harrow-vale', { passages: [{ kind: 'calm', seconds: 60 }] });
    expect(changedShare(game, 400, 410)).toBeLessThan(0.01);
    expect(changedShare(game, 130, 330)).toBeGreaterThan(0.1);
  });
  it('brings rain and night from one frame to the next', () => {
    const game = gameOf('harrow-vale');
    const kinds = [359, 360, 479, 480].map((slot) => passageAt(game, slotTimeUs(game, slot)).kind);
    expect(kinds).toEqual(['calm', 'busy', 'busy', 'busy']);
    expect(changedShare(game, 359, 360)).toBeGreaterThan(0.4);
    expect(changedShare(game, 479, 480)).toBeGreaterThan(0.3);
  });
});

describe('tin cathedral', () => {
  it('lets nobody walk through a wall', () => {
    for (let seconds = 0; seconds < 120; seconds += 0.02) {
      const { x, y } = walkerAt(seconds);
      expect(plan[Math.floor(y) * planSide + Math.floor(x)]).toBe(0);
    }
  });
  it('walks on where it was a moment before, and turns at most a right angle in its quick turns', () => {
    let before = walkerAt(0);
    for (let seconds = 0.01; seconds < 90; seconds += 0.01) {
      const now = walkerAt(seconds);
      expect(Math.hypot(now.x - before.x, now.y - before.y)).toBeLessThan(0.03);
      const turned = Math.abs(Math.atan2(Math.sin(now.angle - before.angle), Math.cos(now.angle - before.angle)));
      expect(turned).toBeLessThan(0.08);
      before = now;
    }
  });
  it('is dense: hardly two pixels beside each other are equal with all its detail, many more without', () => {
    const equalPairs = (detail: number): number => {
      const picture = drawn(gameOf('tin-cathedral', { detail }), 130);
      let equal = 0;
      for (let i = 0; i + 1 < 640 * 360; i++) if (picture[i] === picture[i + 1]) equal++;
      return equal / (640 * 360);
    };
    expect(equalPairs(1)).toBeLessThan(0.2);
    expect(equalPairs(0)).toBeGreaterThan(equalPairs(1) * 1.5);
  });
});
