import { pixelKinds } from '@mellow/model';
import { expectHalf, standIn, withCameraTake } from '../test/support/cameraTake';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';

jest.setTimeout(120_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('a camera', () => {
  it.each(pixelKinds)('half seen through in %s is the mean of both', (pixels) => expectHalf(bench, pixels));

  it('that goes away leaves the take, and its last picture does not stay', async () => {
    const take = await withCameraTake(
      bench,
      standIn({ from: { kind: 'device', device: '/dev/video9', name: 'Desk camera' } }),
      {
        encode: { encoder: 'utvideo-software' },
        order: {
          clock: 'real',
          dueFrames: 300,
          cameraInput: {
            format: 'lavfi',
            address: 'color=c=white:s=320x240:r=30,trim=duration=5,fps=30',
            options: {},
          },
        },
      },
    );
    expect(take.result.end).toBe('length');
    expect(take.log.join('\n')).toContain('Desk camera is gone');
  });
});
