import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { z } from 'zod';

/** Size in shared memory against FFmpeg's own filters: see support/sizedBothWays.ts. Differences are steps of 8 bits. */
const reportSchema = z.array(
  z.object({
    name: z.string(),
    way: z.string(),
    planes: z.array(z.object({ mean: z.number(), largest: z.number() })),
    besideUntouched: z.boolean(),
  }),
);
const report = reportSchema.parse(
  JSON.parse(
    execFileSync(process.execPath, ['--import', 'tsx', join(__dirname, 'support/sizedBothWays.ts')], {
      stdio: ['ignore', 'pipe', 'ignore'],
    }).toString(),
  ),
);

describe('size in shared memory, against the library’s filters', () => {
  it.each(report.map((sized) => [sized.name, sized] as const))('%s', (name, { way, planes, besideUntouched }) => {
    expect(besideUntouched).toBe(true);
    // The library takes one pixel's difference where the kernel takes the mean of those it stands for ("nearest"), and
    // takes differences for centred where it goes through another matrix, whatever it is told: up to half a pixel apart.
    const apart = name.includes('nearest') || (way === 'other-matrix' && /mjpeg|4:4:4/.test(name));
    const worst = planes.reduce((a, b) => ({
      mean: Math.max(a.mean, b.mean),
      largest: Math.max(a.largest, b.largest),
    }));
    expect(worst.mean).toBeLessThan(apart ? 1.25 : 0.65);
    expect(worst.largest).toBeLessThanOrEqual(apart ? 8 : 3);
  });
  it('is tried in each of its ways', () =>
    expect([...new Set(report.map(({ way }) => way))].sort()).toEqual([
      'from-colours',
      'other-matrix',
      'scaled',
      'to-colours',
    ]));
});
