import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { cameraPart } from '@mellow/core';
import { pixelKinds } from '@mellow/model';
import { expectHalf, lumaOf, standIn, withCameraTake } from '../test/support/cameraTake';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';

jest.setTimeout(120_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('a camera', () => {
  it.each(pixelKinds)('half seen through in %s is the mean of both', (pixels) => expectHalf(bench, pixels));

  it('that goes away and does not come back leaves the take, and its last picture does not stay', async () => {
    const clip = join(bench.folder, 'desk.mkv');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=white:s=320x240:r=30:d=3'],
      ...['-c:v', 'ffv1', clip],
    ]);
    // It is played at its own pace; once it is opened nobody can open it again.
    const stop = bench.recorder().onEvent((event) => {
      if (event.type === 'live' && event.live.due > 30) rmSync(clip, { force: true });
    });
    const desk = standIn({ from: { kind: 'device', device: '/dev/video9', name: 'Desk camera' } });
    const take = await withCameraTake(bench, desk, {
      encode: { encoder: 'utvideo-software' },
      order: {
        clock: 'real',
        dueFrames: 600,
        cameraInput: { format: 'lavfi', address: `movie=${clip},realtime`, options: {} },
      },
    });
    stop();
    expect(take.result.end).toBe('length');
    expect(take.log.join('\n')).toContain('Desk camera is gone');
    expect(take.log.join('\n')).toContain('Desk camera brings no pictures');
    expect(take.result.camera?.away).toBe(1);
    expect(take.result.camera?.awayS).toBeGreaterThan(2);
    const seen = lumaOf(take.result.filePath, cameraPart(take.order.recipe)!);
    const white = (luma: Uint8Array): number => luma.filter((value) => value >= 233).length / luma.length;
    // The clip was opened before the take began, and is over within its first seconds.
    expect(seen.some((luma) => white(luma) > 0.99)).toBe(true);
    expect(white(seen.at(-1)!)).toBeLessThan(0.5);
  });
});
