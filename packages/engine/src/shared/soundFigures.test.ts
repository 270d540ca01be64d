import * as fc from 'fast-check';
import { createSoundFiguresMemory, openSoundFigures, type SoundFigure } from './soundFigures';

const names: SoundFigure[] = ['state', 'rateHz', 'channels', 'driftPpm', 'away', 'silenceSamples', 'peak', 'held'];

it('each figure of each sound has a place of its own, seen by all who share the memory', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 8 }),
      fc.array(fc.record({ sound: fc.nat(7), name: fc.constantFrom(...names), value: fc.integer() }), {
        maxLength: 40,
        size: 'max',
      }),
      (sounds, writes) => {
        const memory = createSoundFiguresMemory(sounds);
        const [writer, reader] = [openSoundFigures(memory), openSoundFigures(memory)];
        const kept = new Map<string, number>();
        for (const { sound, name, value } of writes.filter((write) => write.sound < sounds)) {
          writer.set(sound, name, value);
          writer.add(sound, name, 1);
          kept.set(`${sound} ${name}`, value + 1);
        }
        for (let sound = 0; sound < sounds; sound++)
          for (const name of names) expect(reader.get(sound, name)).toBe(kept.get(`${sound} ${name}`) ?? 0);
      },
    ),
  ));
it('knows that a clock is not known', () => {
  const figures = openSoundFigures(createSoundFiguresMemory(1));
  figures.set(0, 'driftPpm', NaN);
  expect(figures.get(0, 'driftPpm')).toBeNaN();
});
