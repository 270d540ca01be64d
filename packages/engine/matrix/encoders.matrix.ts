import { encoderFacts, fileRange } from '@mellow/core';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { expectRead, makeEncoded, softwareEncoders } from '../test/support/encoderTake';
import { probeStreams } from '../test/support/probe';

/** Every software encoder by itself, held against ffprobe (FFmpeg project). */
jest.setTimeout(120_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());
const make = (...asked: Parameters<typeof makeEncoded> extends [unknown, ...infer Rest] ? Rest : never) =>
  makeEncoded(bench, ...asked);

describe('every software encoder', () => {
  for (const encoder of softwareEncoders) {
    const facts = encoderFacts[encoder];
    it.each(facts.pixels)(`${encoder} in %s is what ffprobe reads`, async (pixels) => {
      const take = await make(encoder, { pixels });
      expectRead(take);
      const range = probeStreams(take.result.filePath)[0]?.color_range;
      if (pixels !== 'rgb') expect(range).toBe(fileRange(take.order.recipe) === 'full' ? 'pc' : 'tv');
    });
    // Every rate control and every container once, beside each other; the matrix pairs them with everything else.
    if (encoder !== 'avc-software' && encoder !== 'ffv1-software') continue;
    const pairs = Array.from(
      { length: Math.max(facts.rateControls.length, facts.containers.length) },
      (_, i) =>
        [facts.rateControls[i % facts.rateControls.length]!, facts.containers[i % facts.containers.length]!] as const,
    );
    it.each(pairs)(`${encoder} with %s in %s`, async (rateControl, container) =>
      expectRead(
        await make(
          encoder,
          { rateControl, bitrateKbps: 900, ceilingKbps: 1400 },
          { recipe: { container }, suffix: container === 'matroska' ? 'mkv' : 'mp4' },
        ),
      ),
    );
  }
  // The lightest is what all the others here use; the ladders of the slower ones are walked by the matrix.
  it.each(encoderFacts['avc-software'].efforts.slice(1))('avc-software takes effort %s', async (effort) =>
    expectRead(await make('avc-software', { effort }, { size: { widthPx: 160, heightPx: 96 } })),
  );
});
