import * as fc from 'fast-check';
import { decideFate, repeatCause, type DueObservation } from './index';

const calm: DueObservation = {
  wokeAfterNextDue: false,
  bytesWaiting: 0,
  waitingLimitBytes: 64e6,
  sinceLastWriteUs: 0,
  unwritten: { us: 0, waitsFor: 'pack' },
  room: 'yes',
  grab: 'ok',
  newestFrame: 10,
  lastFiledFrame: 9,
};

// The table of fates in docs/model.md: the first match wins.
describe('the fate of a due frame', () => {
  it.each<[string, Partial<DueObservation>, object]>([
    ['picker woke late', { wokeAfterNextDue: true }, { fate: 'capture-miss', cause: 'picker-late' }],
    ['too much waits for the drive', { bytesWaiting: 64e6 + 1 }, { fate: 'write-miss', cause: 'drive-slow' }],
    [
      'the drive stands still',
      { bytesWaiting: 65e6, sinceLastWriteUs: 500_000 },
      { fate: 'write-miss', cause: 'drive-stalled' },
    ],
    [
      'packets wait for the container',
      { unwritten: { us: 1_900_001, waitsFor: 'pack' } },
      { fate: 'write-miss', cause: 'pack-late' },
    ],
    ['as long as they may', { unwritten: { us: 1_900_000, waitsFor: 'pack' } }, { fate: 'new' }],
    [
      'bytes wait for a slow drive',
      { unwritten: { us: 2e6, waitsFor: 'drive' } },
      { fate: 'write-miss', cause: 'drive-slow' },
    ],
    [
      'bytes wait for a drive that stands still',
      { unwritten: { us: 2e6, waitsFor: 'drive' }, sinceLastWriteUs: 600_000 },
      { fate: 'write-miss', cause: 'drive-stalled' },
    ],
    ['the encoder’s queue is full', { room: 'encode-queue-full' }, { fate: 'encode-miss', cause: 'queue-full' }],
    ['the scaler is busy', { room: 'size-busy' }, { fate: 'capture-miss', cause: 'size-late' }],
    ['no slot is free', { room: 'pool-empty' }, { fate: 'capture-miss', cause: 'pool-empty' }],
    ['no source frame yet', { newestFrame: null }, { fate: 'capture-miss', cause: 'no-source' }],
    ['the grab failed', { grab: 'failed' }, { fate: 'capture-miss', cause: 'no-source' }],
    ['the grab took too long', { grab: 'unfinished' }, { fate: 'capture-miss', cause: 'grab-late' }],
    ['nothing newer', { newestFrame: 9 }, { fate: 'repeat' }],
    ['a newer frame', {}, { fate: 'new' }],
    ['the first frame', { lastFiledFrame: null }, { fate: 'new' }],
  ])('%s', (_, change, decision) => expect(decideFate({ ...calm, ...change })).toEqual(decision));

  it('an earlier row of the table always wins', () => {
    const changes: Partial<DueObservation>[] = [
      { wokeAfterNextDue: true },
      { bytesWaiting: 65e6 },
      { room: 'encode-queue-full' },
      { newestFrame: null },
      { grab: 'unfinished' },
      { newestFrame: 9 },
    ];
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 5 }), (first, by) => {
        const later = Math.min(5, first + by);
        return (
          JSON.stringify(decideFate({ ...calm, ...changes[later], ...changes[first] })) ===
          JSON.stringify(decideFate({ ...calm, ...changes[first] }))
        );
      }),
    );
  });
});

describe('why a frame is repeated', () => {
  const repeat = {
    dueUs: 100_000,
    periodUs: 16_667,
    previousPresentUs: 85_000,
    nextPresentUs: 101_000,
    endUs: 1_000_000,
    reportsOnlyChanges: false,
  };
  it('phase: the next frame came within half a period, and the source’s gap is ordinary', () =>
    expect(repeatCause(repeat)).toBe('phase'));
  it('slow: it came, but later', () => expect(repeatCause({ ...repeat, nextPresentUs: 120_000 })).toBe('slow'));
  it('slow: it came soon after, but the source’s gap was long', () =>
    expect(repeatCause({ ...repeat, previousPresentUs: 60_000 })).toBe('slow'));
  it('stalled: the source stood still for a quarter of a second', () =>
    expect(repeatCause({ ...repeat, nextPresentUs: 335_000 })).toBe('stalled'));
  it('still: the source only reports changes', () =>
    expect(repeatCause({ ...repeat, nextPresentUs: 200_000, reportsOnlyChanges: true })).toBe('still'));
  it('until the end, where nothing followed', () => {
    expect(repeatCause({ ...repeat, nextPresentUs: null })).toBe('stalled');
    expect(repeatCause({ ...repeat, nextPresentUs: null, endUs: 150_000 })).toBe('slow');
  });
});
