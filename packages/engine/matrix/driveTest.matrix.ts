import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runMediaJob } from '@mellow/engine';
import { driveTestSchema } from '@mellow/model';
import { speedByDd } from '../test/support/dd';

jest.setTimeout(120_000);

it('tells the order of what dd tells of the same drive, in the same run', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-drive-'));
  try {
    const found = driveTestSchema.parse(await runMediaJob({ kind: 'drive-test', folder, mostS: 8 }));
    const tools = Array.from({ length: 3 }, () => speedByDd(folder, found.way)).sort((a, b) => a - b);
    // How near the two are is the bench's to say; a wrong unit, or a cache measured for a drive, is another order.
    expect(found.bytesPerSecond).toBeGreaterThan((tools[0] ?? 0) / 3);
    expect(found.bytesPerSecond).toBeLessThan((tools[2] ?? 0) * 3);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
