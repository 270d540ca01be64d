import * as fc from 'fast-check';
import { createSoundRingMemory, openSoundRingReader, openSoundRingWriter, soundBlockSamples } from './soundRing';

/** A writer and a reader in whatever order: blocks stand at their numbers, none is read before it is there, none is written over. */
interface Act {
  kind: 'write' | 'read' | 'done';
  by: number;
}
const act: fc.Arbitrary<Act> = fc.record({
  kind: fc.constantFrom('write', 'read', 'done'),
  by: fc.integer({ min: 0, max: 40 }),
});
const values = soundBlockSamples * 2;

it('keeps every block at its number, however writer and reader get on', () =>
  fc.assert(
    fc.property(fc.array(act, { maxLength: 120, size: 'max' }), (acts) => {
      const memory = createSoundRingMemory(0.2);
      const [writer, reader] = [openSoundRingWriter(memory), openSoundRingReader(memory)];
      let [written, done] = [0, 0];
      for (const { kind, by } of acts) {
        if (kind === 'write') {
          const block = new Float32Array(values).fill(written + 1);
          const took = writer.write(block, written * 10_000, 0);
          expect(took).toBe(written - done < memory.blocks);
          if (took) written++;
          expect(writer.next()).toBe(written);
        } else if (kind === 'read') {
          const n = done + by;
          const block = reader.block(n);
          if (n >= written) expect(block).toBeNull();
          else {
            expect(block?.[0]).toBe(n + 1);
            expect(block?.[values - 1]).toBe(n + 1);
            expect(reader.arrivalUs(n)).toBe(n * 10_000);
          }
        } else {
          done = Math.min(written, done + by);
          reader.doneBefore(done);
        }
      }
    }),
    { numRuns: 200 },
  ));

it('waits no longer than it is told, with nothing written and with no room', () => {
  const memory = createSoundRingMemory(0.05);
  const [writer, reader] = [openSoundRingWriter(memory), openSoundRingReader(memory)];
  reader.wait(1000);
  expect(reader.block(0)).toBeNull();
  for (let n = 0; n < memory.blocks; n++) expect(writer.write(new Float32Array(values), 0, 0)).toBe(true);
  expect(writer.write(new Float32Array(values), 0, 1000)).toBe(false);
  reader.doneBefore(1);
  expect(writer.write(new Float32Array(values), 0, 1000)).toBe(true);
});
