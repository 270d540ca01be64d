import { withEncoder } from '@mellow/core';
import type { EncoderName, Recipe } from '@mellow/model';
import type { TakeBench } from './drivenTake';
import { probePictures } from './probe';

/** A take that is over before its encoder knows how far it reorders pictures. */
export async function expectTinyTake(
  bench: TakeBench,
  choice: { encoder: EncoderName; container: Recipe['container']; frames: number; bFrames: number },
): Promise<void> {
  const { encoder, container, frames, bFrames } = choice;
  const base = bench.orderOf({ recipe: { container } }).recipe;
  const { result, log } = await bench.make({
    recipe: { container, lanes: [{ name: 'Game', sources: ['game'], codec: 'aac', bitrateKbps: 128 }] },
    game: { widthPx: 320, heightPx: 180 },
    size: { widthPx: 320, heightPx: 180 },
    encode: { ...withEncoder(base, encoder).encode, bFrames },
    order: { dueFrames: frames },
  });
  expect(result).toMatchObject({ end: 'length', closedWell: true, disagreements: [] });
  expect(log.filter((line) => line.includes('refused'))).toEqual([]);
  expect(result.summary.filed).toBe(frames);
  expect(result.facts?.picture).toMatchObject({ packets: frames, rate: { num: 60, den: 1 } });
  const times = probePictures(result.filePath).map(({ timeUs }) => timeUs);
  expect(times).toHaveLength(frames);
  times.forEach((us, i) => expect(Math.abs(us - (i * 1e6) / 60)).toBeLessThan(1000));
}
