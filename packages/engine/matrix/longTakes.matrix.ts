import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openLedgerReader } from '../src/ledger/closedLedger';

// Some twenty million rows on a machine that does other things too.
jest.setTimeout(900_000);

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-long-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Closed {
  rows: number;
  disagreements: string[];
  figures: { filed: number; fates: Record<string, number> };
  /** Bytes the process held, every ten minutes of the take. */
  memory: number[];
}

function close(fps: number, hours: number, store: boolean): Closed {
  const args = ['--import', 'tsx', join(__dirname, 'longTake.ts'), String(fps), String(hours)];
  const { stdout, stderr, status } = spawnSync(process.execPath, store ? [...args, folder] : args, {
    cwd: join(__dirname, '..'),
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  return JSON.parse(stdout) as Closed;
}

const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

describe('takes of a day, closed while they are read', () => {
  it.each([
    [60, 24, true],
    [240, 20, false],
  ] as const)('%d fps for %d hours: memory is flat, and every frame is accounted for', async (fps, hours, store) => {
    const { rows, disagreements, figures, memory } = close(fps, hours, store);
    expect(rows).toBe(fps * hours * 3600);
    expect(disagreements).toEqual([]);
    expect(figures.filed + (figures.fates['encode-miss'] ?? 0)).toBe(rows);
    const third = Math.floor(memory.length / 3);
    expect(median(memory.slice(2 * third)) / median(memory.slice(third, 2 * third))).toBeLessThan(1.15);
    if (!store) return;
    expect(statSync(join(folder, 'ledger.arrow')).size).toBeGreaterThan(1e8);
    const reader = await openLedgerReader(folder);
    expect(reader.rows).toBe(rows);
    expect((await reader.range(rows - 3, rows)).length).toBe(3);
    expect(
      (await reader.pyramid({ num: fps, den: 1 }, 0, undefined, 1200)).encodeMisses.reduce((a, b) => a + b, 0),
    ).toBe(figures.fates['encode-miss']);
  });
});
