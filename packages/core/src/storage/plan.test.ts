import * as fc from 'fast-check';
import { nameFromPattern, startName } from '@mellow/model';
import { kestrel } from '../machine';
import {
  contentionOf,
  hindsightBytes,
  longestMinutes,
  nameFrom,
  partsOf,
  reserveBytes,
  safeName,
  sessionsThatFit,
  sharedWithGame,
  speedCheck,
  standInFacts,
  subfolderFrom,
  uploadMinutes,
  type NameValues,
} from './index';

const drives = kestrel.drives.map(standInFacts);
const [barn, attic] = [drives[0]!, drives[1]!];

describe('a drive', () => {
  it('has so many times the needed rate as head-room, less with the game reading from it', () => {
    expect(speedCheck(barn, 2e6, false).headRoom).toBeCloseTo(35, 6);
    expect(speedCheck(barn, 2e6, true).headRoom).toBeCloseTo(35 / 2.5, 6);
    expect(speedCheck({ ...barn, writeBytesPerSecond: null }, 2e6, false)).toMatchObject({
      availableBytesPerSecond: null,
      headRoom: null,
    });
    // Little on solid state, much on a hard disk (common practice).
    expect(contentionOf('hard disk', true)).toBeGreaterThan(2 * contentionOf('solid state', true) - 0.1);
    expect(contentionOf('hard disk', null)).toBeLessThan(contentionOf('hard disk', true));
  });
  it('is shared where physical drive and game’s agree: two partitions of one do not help', () => {
    const partition = { ...barn, id: 'barn-2' };
    expect(sharedWithGame(barn, 'barn-2', [...drives, partition])).toBe(true);
    expect(sharedWithGame(attic, 'kestrel-barn', drives)).toBe(false);
    expect(sharedWithGame(attic, 'elsewhere', drives)).toBe(false);
    expect(sharedWithGame(attic, null, drives)).toBeNull();
    expect(sharedWithGame({ ...attic, deviceId: null }, 'kestrel-barn', drives)).toBeNull();
  });
  it('holds whole sessions with the copy beside them, and keeps its reserve', () => {
    expect(sessionsThatFit(100e9, 2e6, 90, false)).toBe(9);
    expect(sessionsThatFit(100e9, 2e6, 90, true)).toBe(4);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2_000_000 }),
        fc.integer({ min: 1, max: 400 }),
        fc.integer({ min: 1, max: 600 }),
        fc.boolean(),
        (freeMb, tenthsMb, minutes, copy) => {
          const [free, rate] = [freeMb * 1e6, tenthsMb * 1e5];
          const fit = sessionsThatFit(free, rate, minutes, copy);
          expect(fit * minutes).toBeLessThanOrEqual(longestMinutes(free, rate, copy) + 1e-6);
          if (free > reserveBytes) expect((fit + 1) * minutes).toBeGreaterThan(longestMinutes(free, rate, copy) - 1e-6);
        },
      ),
    );
  });
});

describe('parts', () => {
  it('end after so many seconds or bytes, and nothing is lost between them', () => {
    expect(partsOf(3600, 2.17e6, { seconds: 1200 }).map((p) => [p.number, p.fromS, p.toS])).toEqual([
      [1, 0, 1200],
      [2, 1200, 2400],
      [3, 2400, 3600],
    ]);
    expect(partsOf(100, 1e6, null)).toEqual([{ number: 1, fromS: 0, toS: 100, bytes: 1e8 }]);
    fc.assert(
      fc.property(
        fc.integer({ min: 10, max: 7200 }),
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 30, max: 4000 }),
        (seconds, mbs, limitMb) => {
          const parts = partsOf(seconds, mbs * 1e6, { bytes: limitMb * 1e6 });
          expect(parts.reduce((sum, p) => sum + p.bytes, 0)).toBeCloseTo(seconds * mbs * 1e6, 0);
          parts.forEach((p, i) => expect(p.fromS).toBeCloseTo(i === 0 ? 0 : parts[i - 1]!.toS, 6));
          expect(Math.max(...parts.map((p) => p.bytes))).toBeLessThanOrEqual(Math.max(limitMb, mbs) * 1e6 + 1);
        },
      ),
    );
  });
});

it('sending 11.7 GB over 40 Mb/s takes 39 min; a minute at 15 Mb/s is 112.5 MB, five at 30 are 1 125 MB', () => {
  expect(uploadMinutes(11.7e9, 40)).toBeCloseTo(39, 6);
  expect(hindsightBytes(15e6, 60)).toBe(112.5e6);
  expect(hindsightBytes(30e6, 300)).toBe(1125e6);
});

describe('names of files', () => {
  const values: NameValues = {
    game: 'Paper Comets',
    day: '2026-11-25',
    time: '21.10.05',
    kind: 'trial',
    number: '13',
    setup: 'Long/play',
    recipe: '8',
    size: '1920x1080',
  };
  it('are put together from their parts', () => {
    expect(nameFrom([{ word: 'game' }, { text: 'run, ' }, { word: 'number' }], values)).toBe('Paper Comets run 13');
    expect(subfolderFrom('game-day', values)).toBe('Paper Comets/2026-11-25');
    expect(subfolderFrom('day', values)).toBe('2026-11-25');
    expect(subfolderFrom('setup', values)).toBe('Longplay');
    expect(subfolderFrom('none', values)).toBe('');
  });
  it('are read from what earlier recipes stored: words in braces within a text', () => {
    expect(nameFromPattern('{game} {date} take {number}')).toEqual([
      { word: 'game' },
      { word: 'day' },
      { text: 'take' },
      { word: 'number' },
    ]);
    expect(nameFromPattern('{constructor}')).toEqual([{ text: 'constructor' }]);
    expect(nameFromPattern('  ')).toEqual(startName);
  });
  it('never are those that Windows keeps for devices, and cut no sign in half', () => {
    expect([safeName('con'), safeName('LPT1.mkv'), safeName('console')]).toEqual([
      'con take',
      'LPT1.mkv take',
      'console',
    ]);
    const long = safeName(`a${'𝐀'.repeat(100)}`);
    expect(long).not.toMatch(/[\uD800-\uDBFF]$/);
  });
  it('can stand in any file system, whatever a person types', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const name = safeName(text);
        expect(name).toMatch(/^[\p{Letter}\p{Number} ._-]{1,80}$/u);
        expect(name.startsWith('.')).toBe(false);
      }),
    );
    expect(safeName('../../etc')).toBe('etc');
  });
});
