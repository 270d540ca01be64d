import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { expectSameEachTime } from '../test/support/samplePlay';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('a sample of a quarter of a minute', () => {
  it.each(['4:2:0', 'rgb'] as const)('in %s is the same each time it is played', (pixels) =>
    expectSameEachTime(bench, pixels, 15),
  );
});
