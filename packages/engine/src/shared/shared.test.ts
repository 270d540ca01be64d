import * as fc from 'fast-check';
import { createControlMemory, openControl } from './control';
import { createRingMemory, openRingReader, openRingWriter } from './messageRing';
import { createSampleLogMemory, openSampleLog } from './sampleLog';
import { pixelLayout } from '../native/pixelLayout';
import { createSlotPoolMemory, openSlotPool } from './slotPool';

describe('the message ring', () => {
  it('gives back every message, in order and whole, through any mix of writing and reading', () => {
    // What the walks are about has to come about.
    const reached = { full: 0, emptied: 0, wrapped: 0 };
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.uint8Array({ maxLength: 900, size: 'max' }), fc.constant('read' as const)), {
          maxLength: 200,
          size: 'max',
        }),
        // Where an empty ring is begun anew.
        fc.constantFrom(0, 512, 2048, 1 << 20),
        (steps, homeBytes) => {
          const memory = createRingMemory(4096);
          const writer = openRingWriter(memory, homeBytes);
          const reader = openRingReader(memory);
          const sent: Uint8Array[] = [];
          let received = 0;
          let serial = 0;
          let bytes = 0;
          const read = () => {
            const message = reader.next(0);
            if (!message) return;
            expect(message.fields[0]).toBe(received);
            expect(Buffer.compare(message.payload, sent[received] ?? new Uint8Array())).toBe(0);
            received++;
            reader.done();
          };
          for (const step of steps) {
            if (step === 'read') read();
            else if (writer.push([serial, 1, 2, 3, 4], step, 0)) {
              sent.push(step);
              serial++;
              bytes += 48 + step.length;
            } else {
              reached.full++;
              read();
            }
            if (writer.count() === 0 && serial > 0) reached.emptied++;
            expect(writer.count()).toBe(sent.length - received);
          }
          if (bytes > 2 * 4096) reached.wrapped++;
          while (received < sent.length) read();
          expect(reader.next(0)).toBeNull();
        },
      ),
    );
    expect(Math.min(reached.full, reached.emptied, reached.wrapped)).toBeGreaterThan(20);
  });
  it('touches no more than its beginning while its reader keeps up', () => {
    const memory = createRingMemory(32 << 20);
    const writer = openRingWriter(memory);
    const reader = openRingReader(memory);
    const piece = new Uint8Array(300_000).fill(1);
    for (let i = 0; i < 500; i++) {
      expect(writer.push([i, 0, 0, 0, 0], piece, 0)).toBe(true);
      expect(reader.next(0)?.fields[0]).toBe(i);
      reader.done();
    }
    expect(new Uint8Array(memory.data).lastIndexOf(1)).toBeLessThan(2 << 20);
  });
  it('refuses a message that can never fit', () => {
    const writer = openRingWriter(createRingMemory(4096));
    expect(() => writer.push([0, 0, 0, 0, 0], new Uint8Array(4000), 0)).toThrow(/does not fit/);
  });
});

describe('the pool of pictures', () => {
  it('never hands out a picture that somebody holds', () => {
    const reached = { worn: 0, shared: 0 };
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('claim', 'publish', 'hold', 'add', 'release', 'discard'), {
          maxLength: 300,
          size: 'max',
        }),
        (steps) => {
          const pool = openSlotPool(createSlotPoolMemory(4, pixelLayout('yuv420p', 16, 16, false)));
          const state = new Map<number, number>();
          const pick = (wanted: (value: number) => boolean) => [...state].find(([, value]) => wanted(value))?.[0];
          for (const step of steps) {
            if (step === 'claim') {
              const slot = pool.claim();
              expect([-1, 0, 1, 2, 3]).toContain(slot);
              if (slot >= 0) {
                expect(state.get(slot) ?? 0).toBe(0);
                state.set(slot, 1);
              } else {
                reached.worn++;
                expect([...state.values()].filter((v) => v !== 0)).toHaveLength(4);
              }
            }
            const writing = pick((v) => v === 1);
            const ready = pick((v) => v === 2);
            const held = pick((v) => v > 2);
            if (step === 'publish' && writing !== undefined) {
              pool.publish(writing, 5, 6, 7);
              state.set(writing, 2);
              expect([pool.frameNumber(writing), pool.presentSerial(writing), pool.presentUs(writing)]).toEqual([
                5, 6, 7,
              ]);
            }
            if (step === 'hold' && ready !== undefined) {
              expect(pool.hold(ready)).toBe(true);
              state.set(ready, 3);
            }
            if (step === 'add' && held !== undefined) {
              pool.addHolder(held);
              state.set(held, (state.get(held) ?? 0) + 1);
              reached.shared++;
            }
            if (step === 'release' && held !== undefined) {
              pool.release(held);
              state.set(held, (state.get(held) ?? 0) === 3 ? 0 : (state.get(held) ?? 0) - 1);
            }
            if (step === 'discard') {
              if (held !== undefined) expect(pool.discard(held)).toBe(false);
              if (ready !== undefined) {
                expect(pool.discard(ready)).toBe(true);
                state.set(ready, 0);
              }
            }
          }
        },
      ),
    );
    expect(Math.min(reached.worn, reached.shared)).toBeGreaterThan(20);
  });
});

describe('control and logs', () => {
  it('keep the first reason to stop', () => {
    const memory = createControlMemory();
    const control = openControl(memory);
    openControl(memory).requestStop('drive-full');
    control.requestStop('stopped');
    expect(control.get('stop')).toBe(1);
    expect(control.reason()).toBe('drive-full');
  });
  it('give what came since, at most what they hold', () => {
    const memory = createSampleLogMemory();
    const log = openSampleLog(memory);
    for (let i = 0; i < 5000; i++) log.add(i);
    const fresh = openSampleLog(memory).since(4998);
    expect(fresh).toEqual({ values: [4998, 4999], count: 5000 });
    expect(log.since(0).values).toHaveLength(4096);
  });
});
