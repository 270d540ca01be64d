import { encoderFacts } from '@mellow/core';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { expectTinyTake } from '../test/support/tinyTake';
import { softwareEncoders } from '../test/support/encoderTake';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const tiny = softwareEncoders.flatMap((encoder) =>
  encoderFacts[encoder].containers.flatMap((container) =>
    [1, 2].map((frames) => ({ encoder, container, frames, bFrames: Math.min(2, encoderFacts[encoder].mostBFrames) })),
  ),
);
it.each(tiny)('$frames frames of $encoder in $container with $bFrames B-frames are all in the file', (choice) =>
  expectTinyTake(bench, choice),
);

// Fields of AVC are no pictures: a file of one picture a second was told to have two.
it.each([1, 2, 3, 5, 8])('%d fps are read as they were recorded, in every container', async (num) => {
  for (const container of encoderFacts['avc-software'].containers) {
    const take = await bench.make({ recipe: { rate: { num, den: 1 }, container }, order: { dueFrames: 12 } });
    expect([container, take.result.facts?.picture.rate]).toEqual([container, { num, den: 1 }]);
  }
});
