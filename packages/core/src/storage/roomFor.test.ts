import { onePart, type DriveFacts } from '@mellow/model';
import { standInFacts } from './driveFacts';
import { roomFor } from './roomFor';

const drive = (id: string, change: Partial<DriveFacts> = {}): DriveFacts => ({
  ...standInFacts({ id, name: id, kind: 'solid state', writeBytesPerSecond: 1, freeBytes: 1, totalBytes: 1 }),
  id,
  ...change,
});
const a = drive('a', { freeBytes: 100e9, deviceId: 'one' });
const b = drive('b', { freeBytes: 50e9, deviceId: 'two' });

it('adds the room of drives that take over, each once', () => {
  const room = (nextDriveIds: string[], drives: DriveFacts[]) =>
    roomFor({ driveId: 'a', nextDriveIds, parts: onePart }, drives);
  expect(room([], [a, b])).toBe(100e9);
  expect(room(['b'], [a, b])).toBe(150e9);
  expect(room(['b', 'b', 'a', 'gone'], [a, b])).toBe(150e9);
  // Another folder on the same file system is the same room; another partition of the device is not.
  expect(room(['b'], [a, { ...b, deviceId: 'one', freeBytes: 100e9 }])).toBe(100e9);
  expect(room(['b'], [a, { ...b, deviceId: 'one' }])).toBe(150e9);
  expect(room(['b'], [a, { ...b, problem: 'It is not there.' }])).toBe(100e9);
  expect(room(['b'], [{ ...a, freeBytes: null }, b])).toBeNull();
  expect(room(['b'], [b])).toBeNull();
});
