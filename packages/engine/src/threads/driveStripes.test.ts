import { createControlMemory, openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { createSampleLogMemory, openSampleLog } from '../shared/sampleLog';
import { createStripeMemory, openStripeFigures } from '../shared/stripeMemory';
import type { StripeOrder, TakeOrder } from '@mellow/model';
import { openDriveStripes } from './driveStripes';

const place = {
  path: 'a',
  identity: { device: '1', inode: '1', bornNs: null },
  driveFolder: '/one',
  quotaBytes: null,
  largestFileBytes: null,
  reservePath: null,
};
const layout: StripeOrder = { blockBytes: 4096, pattern: [0, 1], places: [place, { ...place, driveFolder: '/two' }] };
const order = { filePath: 'a', identity: place.identity, driveFolder: '/one', reserveBytes: 0 } as TakeOrder;

function opened() {
  const memory = layout.places.map(createStripeMemory);
  const control = openControl(createControlMemory());
  const parts = openDriveStripes(order, layout, memory, control, openSampleLog(createSampleLogMemory()));
  return { memory, control, file: parts.file(), parts };
}

it('hands on what a take still has when another thread has failed', () => {
  const { memory, control, file } = opened();
  control.set('failed', 1);
  expect(file.write(0, new Uint8Array(10_000).fill(7), Infinity)).toEqual({ done: 10_000, error: null });
  const [first, second] = memory.map(({ ring }) => openRingReader(ring));
  expect([first?.count(), second?.count()]).toEqual([2, 1]);
  expect(first?.next(0)?.payload).toHaveLength(4096);
});

it('says what one of its drives refused, how far the others came, and takes no more', () => {
  const { memory, file } = opened();
  openStripeFigures(memory[1]!).set('errno', 28);
  expect(file.write(0, new Uint8Array(10_000), Infinity)).toMatchObject({ done: 4096, error: { errno: 28 } });
  expect(file.end()).toBe(4096);
  expect(() => file.sync()).toThrow(/refused/);
});

it('is durable up to the first block that somebody has not flushed', () => {
  const { memory, file } = opened();
  file.write(0, new Uint8Array(20_000), Infinity);
  const [first, second] = memory.map(openStripeFigures);
  first?.set('durable', 12_000);
  second?.set('durable', 0);
  expect(file.sync()).toBe(4096);
  second?.set('durable', 4096);
  expect(file.sync()).toBe(12_288);
});

it('has as much room as the drive that is full first, and says nothing where one does not tell', () => {
  const { memory, parts } = opened();
  const [first, second] = memory.map(openStripeFigures);
  first?.set('leftBytes', 100e6);
  second?.set('leftBytes', 30e6);
  expect(parts.left()).toBe(60e6);
  second?.set('leftBytes', -1);
  expect(parts.left()).toBeNull();
});
