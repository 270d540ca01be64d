import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, openSync, closeSync, statfsSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { reserveFile } from '@mellow/engine';
import { openTakeBench, type TakeBench, type TakeChange } from './support/drivenTake';

/** A drive of its own that really gets full: a file system in memory, where the system lets one be mounted. */
const canMount = process.platform === 'linux' && process.getuid?.() === 0;
/** Left out, and counted so, where none can be mounted. */
const onOwnDrive = canMount ? it : it.skip;

let bench: TakeBench;
let drive: string | null = null;
beforeAll(async () => {
  bench = await openTakeBench();
  const folder = join(bench.folder, 'drive');
  mkdirSync(folder);
  if (!canMount) return;
  execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=60m', 'tmpfs', folder], { stdio: 'ignore' });
  drive = folder;
});
afterAll(() => {
  if (drive) execFileSync('umount', ['-l', drive]);
  bench.close();
});

const free = (): number => {
  const room = statfsSync(drive!);
  return room.bavail * room.bsize;
};

function onDrive(name: string): TakeChange {
  const reserved = reserveFile(join(drive!, `${name}.mkv`));
  return {
    recipe: { rate: { num: 30, den: 1 } },
    encode: { rateControl: 'constant-bitrate', bitrateKbps: 6000, ceilingKbps: 6000 },
    order: {
      clock: 'real',
      dueFrames: 3000,
      filePath: reserved.path,
      identity: reserved.identity,
      driveFolder: drive!,
      reserveBytes: 48e6,
      reservePath: join(drive!, `.room-${name}`),
    },
  };
}

onOwnDrive(
  'keeps room back really, and closes the file whole when what is free runs out',
  async () => {
    const change = onDrive('slowly');
    const held: number[] = [];
    const stop = bench.recorder().onEvent((event) => {
      if (event.type !== 'live' || event.live.state !== 'rolling') return;
      held.push(free());
      // Twelve megabytes are beside what is kept back: less than half of one more is left, the take ends.
      if (event.live.roomBytes !== null && held.length === 8) fill(free() - 12.3e6);
    });
    const take = await bench.make(change);
    stop();
    expect(take.result).toMatchObject({ end: 'drive-full', closedWell: true, tailFrames: 0 });
    expect(take.log.filter((line) => !line.startsWith('Encoder'))).toEqual([]);
    // While it rolled, nobody else could have had what is kept back.
    expect(Math.max(...held)).toBeLessThan(60 * 1024 ** 2 - 48e6);
    expect(existsSync(change.order!.reservePath!)).toBe(false);
    expect(take.result.facts?.picture.packets).toBe(take.result.summary.filed);
  },
  120_000,
);

onOwnDrive(
  'closes the file whole when another program fills the drive from one moment to the next',
  async () => {
    execFileSync('sh', ['-c', `rm -f ${drive}/*`]);
    const change = onDrive('suddenly');
    let filled = false;
    const stop = bench.recorder().onEvent((event) => {
      if (event.type !== 'live' || event.live.due < 60 || filled) return;
      filled = true;
      // No more than was free: what is given back for closing meanwhile is the take's.
      fill(free());
    });
    const take = await bench.make(change);
    stop();
    expect(free()).toBeGreaterThan(40e6);
    expect(take.result).toMatchObject({ end: 'drive-full', closedWell: true, tailFrames: 0 });
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
    expect(take.result.facts?.picture.packets).toBe(take.result.summary.filed);
    expect(take.result.summary.filed).toBeGreaterThan(55);
  },
  120_000,
);

/** Another program that writes so much, or as much of it as fits. */
function fill(bytes: number): void {
  const handle = openSync(join(drive!, `others-${Date.now()}`), 'w');
  const piece = Buffer.alloc(256 << 10, 1);
  try {
    for (let done = 0; done < bytes; done += piece.length) writeSync(handle, piece);
  } catch {
    // It is full.
  } finally {
    closeSync(handle);
  }
}
