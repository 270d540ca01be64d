import { encoderFacts } from '@mellow/core';
import type { EncoderName, PixelKind } from '@mellow/model';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import {
  compared,
  expectAsFilterFinds,
  expectExact,
  expectTimed,
  makeKept,
  softwareEncoders,
  type SsimCase,
} from '../test/support/keptTake';
import { soaks } from './soak';

// The slowest of encoders on the slowest of machines.
jest.setTimeout(600_000);

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('the picture of a take, whatever made it', () => {
  it.each<SsimCase>([
    ['avc-software', { quality: 30 }, {}],
    [
      'avc-software',
      { rateControl: 'constant-bitrate', bitrateKbps: 300, bFrames: 2 },
      { recipe: { container: 'fragmented-mp4' } },
    ],
    ['hevc-software', { quality: 30, bFrames: 3 }, { recipe: { container: 'mp4' } }],
    ['av1-software', { quality: 45 }, {}],
    ['avc-software', { quality: 28 }, { size: { widthPx: 426, heightPx: 240 } }],
  ])('%s %o %o: as FFmpeg’s filter finds it', (...one) => expectAsFilterFinds(bench, one));

  const lossless: (readonly [EncoderName, PixelKind])[] = softwareEncoders
    .filter((name) => encoderFacts[name].rateControls.includes('lossless'))
    .flatMap((name) => encoderFacts[name].pixels.map((pixels) => [name, pixels] as const));
  // The first and the last kind of pixels of each encoder; npm run soak has all of them.
  const atEnds = ([name, pixels]: (typeof lossless)[number]): boolean =>
    [0, -1].some((end) => encoderFacts[name].pixels.at(end) === pixels);
  it.each(lossless.filter((one) => soaks || atEnds(one)))(
    'lossless %s in %s is exact in every one',
    (encoder, pixels) => expectExact(bench, encoder, pixels),
  );

  it('a long take is sought through, and every kept picture of it is found', async () => {
    // 2 000 frames at 4 a second: kept pictures lie 8 s apart, key pictures 2 s.
    const take = await makeKept(
      bench,
      'avc-software',
      { rateControl: 'lossless', keyDistanceFrames: 8, bFrames: 2, effort: 'light' },
      { recipe: { rate: { num: 4, den: 1 } }, order: { dueFrames: 2000, predrawnFrames: 60 } },
    );
    expect(await compared(take)).toMatchObject({ exact: true, pictures: 60 });
  });
});

describe('every encoder is timed after the take', () => {
  it.each(softwareEncoders)('%s, on frames of its own file', (encoder) => expectTimed(bench, encoder));
});
