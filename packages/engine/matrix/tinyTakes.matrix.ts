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
