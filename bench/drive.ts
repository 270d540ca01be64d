import { runMediaJob } from '@mellow/engine';
import { driveTestSchema } from '@mellow/model';
import { speedByDd } from '../packages/engine/test/support/dd';
import { atLeast, atMost, figure, median, type BenchResult } from './measure';

const rounds = 3;

/** The drive test against dd with the same blocks and the same way of writing, by turns. */
export async function benchDrive(folder: string): Promise<BenchResult[]> {
  const ratios: number[] = [];
  const speeds: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const found = driveTestSchema.parse(await runMediaJob({ kind: 'drive-test', folder, mostS: 8 }));
    const tool = median(Array.from({ length: 3 }, () => speedByDd(folder, found.way)));
    ratios.push(found.bytesPerSecond / tool);
    speeds.push(found.bytesPerSecond / 1e6);
  }
  return [
    atLeast('drive test against dd', median(ratios), 'of its speed', 0.85),
    atMost('drive test against dd', median(ratios), 'of its speed', 1.15),
    figure('drive test', median(speeds), 'MB/s'),
  ];
}
