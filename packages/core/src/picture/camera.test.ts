import * as fc from 'fast-check';
import { cameraSchema } from '@mellow/model';
import { codecString } from '../codec';
import { recipeClashes } from '../recipe';
import { anyRecipe, baseRecipe } from '../recipe/anyRecipe.test-support';
import {
  asFiled,
  cameraCorners,
  cameraInCorner,
  cameraPart,
  encodeForBoth,
  filedSize,
  type CameraCorner,
} from './index';

const standIn = { kind: 'stand-in' } as const;
const hd = { ...baseRecipe, size: { ...baseRecipe.size, widthPx: 1920, heightPx: 1080 } };

describe('a camera in the picture', () => {
  it('lies inside it with even sides and corners, wherever it is put', () =>
    fc.assert(
      fc.property(anyRecipe, (recipe) => {
        const part = cameraPart(recipe);
        if (!part) return;
        const file = filedSize(recipe);
        const even = recipe.camera?.where === 'beside' ? [part.topPx] : Object.values(part);
        expect(even.every((px) => px % 2 === 0)).toBe(true);
        expect(part.leftPx).toBeGreaterThanOrEqual(0);
        expect(part.topPx).toBeGreaterThanOrEqual(0);
        expect(part.leftPx + part.widthPx).toBeLessThanOrEqual(file.widthPx);
        expect(part.topPx + part.heightPx).toBeLessThanOrEqual(file.heightPx);
      }),
    ));
  it('keeps the camera’s shape over the game, and is the right half beside it', () => {
    const over = {
      ...hd,
      camera: cameraSchema.parse({ from: standIn, widthShare: 0.25, leftShare: 0.7, topShare: 0.1 }),
    };
    expect(cameraPart(over)).toEqual({ leftPx: 1344, topPx: 108, widthPx: 480, heightPx: 270 });
    const beside = { ...hd, camera: cameraSchema.parse({ from: standIn, where: 'beside' }) };
    expect(filedSize(beside)).toEqual({ widthPx: 3840, heightPx: 1080 });
    expect(cameraPart(beside)).toEqual({ leftPx: 1920, topPx: 0, widthPx: 1920, heightPx: 1080 });
    expect(cameraPart({ ...hd, camera: cameraSchema.parse({ from: standIn, where: 'own-file' }) })).toBeNull();
  });
  it('beside the game counts in all that counts the file’s pixels', () => {
    const beside = { ...hd, camera: cameraSchema.parse({ from: standIn, where: 'beside' }) };
    expect(asFiled(beside).size.widthPx).toBe(3840);
    expect(asFiled(asFiled(beside))).toEqual(asFiled(beside));
    // 3840x1080 at 60 fps asks for AVC level 5.1 (ITU-T H.264, Table A-1): 16 320 macroblocks a picture, 979 200 a second.
    expect(codecString(beside)?.slice(-2)).toBe('33');
    const wide = { ...beside, size: { ...beside.size, widthPx: 4096 } };
    expect(recipeClashes(wide).map(({ id }) => id)).toContain('camera-too-wide');
    const settled = recipeClashes(wide).find(({ id }) => id === 'camera-too-wide')!.remedy.recipe;
    expect(recipeClashes(settled).map(({ id }) => id)).not.toContain('camera-too-wide');
  });
  it('in a corner keeps away from both edges, also where it is nearly as large as the picture', () => {
    const camera = cameraSchema.parse({ from: standIn });
    for (const corner of Object.keys(cameraCorners) as CameraCorner[]) {
      const part = cameraPart({ ...hd, camera: cameraInCorner(camera, corner, hd.size) })!;
      const free = {
        left: part.leftPx,
        right: 1920 - part.leftPx - part.widthPx,
        top: part.topPx,
        bottom: 1080 - part.topPx - part.heightPx,
      };
      // Two in a hundred of the width, three of the height, to even pixels.
      expect(Math.min(free.left, free.right)).toBeCloseTo(38, -1);
      expect(Math.min(free.top, free.bottom)).toBeCloseTo(32, -1);
      expect(free.left < free.right).toBe(corner.endsWith('left'));
      expect(free.top < free.bottom).toBe(corner.startsWith('upper'));
    }
    const huge = cameraInCorner({ ...camera, widthShare: 1 }, 'lower right', hd.size);
    expect([huge.leftShare, huge.topShare]).toEqual([0, 0]);
  });
  it('beside the game asks for 2 to 2.5 times the bitrate, or for a number that is one lower (common practice)', () => {
    const { encode } = { ...hd, encode: { ...hd.encode, bitrateKbps: 15_000, ceilingKbps: 20_000, quality: 20 } };
    expect(encodeForBoth(encode, false)).toMatchObject({ bitrateKbps: 30_000, ceilingKbps: 40_000, quality: 19 });
    expect(encodeForBoth(encode, true).bitrateKbps).toBe(37_500);
    expect(encodeForBoth({ ...encode, quality: 0, bitrateKbps: 400_000 }, true)).toMatchObject({
      quality: 0,
      bitrateKbps: 400_000,
    });
  });
});
