import { createSoundRingMemory, openSoundRingReader, openSoundRingWriter, soundBlockSamples } from './soundRing';

describe('sound in rings', () => {
  it('stands at the number of its block, however often the ring goes round', () => {
    const memory = createSoundRingMemory(0.05);
    const writer = openSoundRingWriter(memory);
    const reader = openSoundRingReader(memory);
    const block = new Float32Array(soundBlockSamples * 2);
    for (let n = 0; n < 2000; n++) {
      expect(reader.block(n)).toBeNull();
      expect(writer.write(block.fill(n), n * 10_000, 0)).toBe(true);
      expect([reader.block(n)?.[0], reader.arrivalUs(n)]).toEqual([n, n * 10_000]);
      reader.doneBefore(n + 1);
    }
  });
  it('refuses more than it holds until it was read, and passes over blocks that the reader has gone on without', () => {
    const memory = createSoundRingMemory(0.03);
    const writer = openSoundRingWriter(memory);
    const reader = openSoundRingReader(memory);
    const block = new Float32Array(soundBlockSamples * 2);
    expect([0, 1, 2, 3].map(() => writer.write(block, 0, 0))).toEqual([true, true, true, false]);
    reader.doneBefore(10);
    expect(writer.next()).toBe(10);
    for (let n = 10; n < 12; n++) expect(writer.write(block.fill(n), 0, 0)).toBe(true);
    expect(reader.block(10)?.[0]).toBe(10);
    expect(reader.block(12)).toBeNull();
  });
});
