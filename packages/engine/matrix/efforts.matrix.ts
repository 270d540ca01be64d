import { encoderFacts } from '@mellow/core';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { makeKept, softwareEncoders } from '../test/support/keptTake';
import { probeStreams } from '../test/support/probe';

// The slowest of encoders on the slowest of machines.
jest.setTimeout(600_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('every effort of every ladder', () => {
  const rungs = softwareEncoders.flatMap((encoder) =>
    encoderFacts[encoder].efforts.map((effort) => [encoder, effort] as const),
  );
  it.each(rungs)('%s, %s, is what ffprobe counts', async (encoder, effort) => {
    const take = await makeKept(
      bench,
      encoder,
      { effort },
      { size: { widthPx: 160, heightPx: 96 }, order: { dueFrames: 90, keepPictures: false } },
    );
    expect(take.result.end).toBe('length');
    expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
    expect(probeStreams(take.result.filePath)[0]).toMatchObject({ width: 160, height: 96, nb_read_packets: '90' });
  });
});
