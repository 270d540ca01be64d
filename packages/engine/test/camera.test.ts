import { cameraPart } from '@mellow/core';
import { fates, type CameraInput } from '@mellow/model';
import { reserveFile } from '@mellow/engine';
import { join } from 'node:path';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { expectHalf, gameSize, lumaOf, standIn, stripsIn, withCameraTake } from './support/cameraTake';
import { probePictures, probeStreams, readStripsOf } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const camera = { widthPx: 640, heightPx: 360 };
const real = (dueFrames: number) => ({ clock: 'real' as const, dueFrames });
const filedDues = ({ columns }: MadeTake): number[] =>
  Array.from(columns.fate, (code, n) => ({ n, fate: fates[code] ?? '' })).flatMap(({ n, fate }) =>
    fate === 'new' || fate === 'repeat' ? [n] : [],
  );

// Other kinds of pixels, and a camera that goes away: matrix/camera.matrix.ts.
describe('the stand-in camera in the picture', () => {
  it('over the game lies where it was put, and moves on picture by picture', async () => {
    const take = await withCameraTake(bench, standIn());
    const part = cameraPart(take.order.recipe)!;
    expect(part).toEqual({ leftPx: 320, topPx: 180, widthPx: 640, heightPx: 360 });
    const seen = stripsIn(take.result.filePath, part, camera).map((strip) => strip?.number);
    // Picture n of a file at 60 fps shows picture n/2 of a camera at 30.
    expect(seen).toEqual(Array.from({ length: 20 }, (_, n) => Math.floor(n / 2)));
    // Around it the game is as it would be without.
    const without = await withCameraTake(bench, null);
    const above = { leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 180 };
    const [aboveWith, aboveWithout] = [take, without].map(({ result }) =>
      Buffer.concat(lumaOf(result.filePath, above)),
    );
    expect(aboveWith!.equals(aboveWithout!)).toBe(true);
  });

  it('beside it makes the picture twice as wide, the game left and whole, the camera right', async () => {
    const take = await withCameraTake(bench, standIn({ where: 'beside' }), {
      size: { widthPx: 640, heightPx: 360 },
    });
    const stream = probeStreams(take.result.filePath)[0];
    expect([stream?.width, stream?.height]).toEqual([1280, 360]);
    const half = (leftPx: number) => ({ leftPx, topPx: 0, widthPx: 640, heightPx: 360 });
    const game = stripsIn(take.result.filePath, half(0), gameSize).map((strip) => strip?.number);
    expect(game).toEqual(Array.from(take.columns.sourceFrame));
    expect(stripsIn(take.result.filePath, half(640), camera).map((strip) => strip?.number)).toEqual(
      Array.from({ length: 20 }, (_, n) => Math.floor(n / 2)),
    );
  });

  it('half seen through is the mean of both', () => expectHalf(bench, '4:2:0'));
});

describe('a camera on the clock', () => {
  it('over the game is in step with it within one picture of its own, where the game stands still too', async () => {
    const take = await withCameraTake(bench, standIn(), {
      game: { ...gameSize, capFps: 12, passages: [{ kind: 'loading', seconds: 10 }] },
      encode: { encoder: 'utvideo-software' },
      order: real(120),
    });
    const dues = filedDues(take);
    const numbers = stripsIn(take.result.filePath, cameraPart(take.order.recipe)!, camera).map((s) => s?.number ?? -9);
    expect(dues.length).toBeGreaterThan(80);
    const late = dues.map((n, i) => n / 2 - (numbers[i] ?? -9));
    // One picture of the camera, and what this machine lets a thread wait now and then.
    expect(late.toSorted((a, b) => a - b)[Math.floor(late.length * 0.9)]).toBeLessThanOrEqual(2);
    expect(Math.min(...late)).toBeGreaterThanOrEqual(-1);
    expect(take.result.camera).toMatchObject({ standIn: true, where: 'over', away: 0 });
    expect(take.result.camera?.pictures).toBeGreaterThan(40);
  });

  it('in a file of its own leaves the take alone and is in step from the first picture', async () => {
    const cameraFile = reserveFile(join(bench.folder, 'own camera.mkv'));
    const take = await withCameraTake(bench, standIn({ where: 'own-file' }), {
      encode: { encoder: 'utvideo-software' },
      order: { ...real(180), cameraFile },
    });
    expect(probeStreams(take.result.filePath)[0]?.width).toBe(1280);
    const stream = probeStreams(cameraFile.path)[0];
    expect([stream?.codec_name, stream?.width, stream?.r_frame_rate]).toEqual(['h264', 640, '30/1']);
    const pictures = probePictures(cameraFile.path);
    expect(pictures.length).toBeGreaterThan(70);
    // Each lies at the time that its own number stands for.
    const strips = readStripsOf(cameraFile.path, camera, camera);
    strips.forEach(({ strip }, i) =>
      expect(Math.abs((strip?.number ?? -9) - (pictures[i]?.timeUs ?? 0) * 30e-6)).toBeLessThan(0.6),
    );
  });

  // The library's own generator stands in for a camera: it is opened, read and decoded by the same calls.
  const generator = (words: string): CameraInput => ({ format: 'lavfi', address: words, options: {} });
  const device = standIn({ from: { kind: 'device', device: '/dev/video9', name: 'Desk camera' } });

  it('that is a device is scaled into its place', async () => {
    const take = await withCameraTake(bench, device, {
      encode: { encoder: 'utvideo-software' },
      order: { ...real(60), cameraInput: generator('color=c=white:s=320x240:r=30,realtime') },
    });
    expect(take.result.camera).toMatchObject({ name: 'Desk camera', standIn: false, away: 0 });
    const last = lumaOf(take.result.filePath, cameraPart(take.order.recipe)!).at(-1)!;
    // White of limited range (ITU-R BT.709, 8 bit).
    expect(last.reduce((least, value) => Math.min(least, value))).toBeGreaterThanOrEqual(233);
  });

  it('that cannot be opened lets no take begin', async () => {
    const order = { ...real(60), cameraInput: generator('no such generator') };
    await expect(withCameraTake(bench, device, { order })).rejects.toThrow('Desk camera cannot be opened');
  });
});
