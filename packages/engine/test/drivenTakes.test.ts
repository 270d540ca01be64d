import { dueUs, isFiled, NEVER, periodUs } from '@mellow/core';
import { fates, type Recipe } from '@mellow/model';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { mkvmerge, probePictures, probeStreams, readStripsOf } from './support/probe';
import { expectTinyTake } from './support/tinyTake';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const filedRows = ({ columns }: MadeTake) =>
  Array.from({ length: columns.length }, (_, n) => n).filter((n) => isFiled(columns, n));

/** ffprobe and the ledger tell the same of the file. */
function expectAgreement(take: MadeTake): void {
  const { recipe } = take.order;
  const rows = filedRows(take);
  const pictures = probePictures(take.result.filePath);
  const tickUs = recipe.container === 'matroska' ? 1000 : 1;
  expect(pictures).toHaveLength(rows.length);
  pictures.forEach((picture, i) => {
    const n = rows[i] ?? -1;
    expect(Math.abs(picture.timeUs - dueUs(recipe.rate, n) - (take.result.fileOffsetUs ?? 0))).toBeLessThanOrEqual(
      tickUs,
    );
    expect(Math.abs(picture.bytes - (take.columns.bytes[n] ?? NEVER))).toBeLessThanOrEqual(4);
    expect(picture.key).toBe(take.columns.key[n] === 1);
  });
  const [video, ...sounds] = probeStreams(take.result.filePath);
  expect(video).toMatchObject({
    codec_name: 'h264',
    width: recipe.size.widthPx,
    height: recipe.size.heightPx,
    color_space: 'bt709',
    color_primaries: 'bt709',
    color_transfer: 'bt709',
    color_range: recipe.encode.range === 'full' ? 'pc' : 'tv',
    nb_read_packets: String(rows.length),
  });
  const [num, den] = (video?.r_frame_rate ?? '').split('/').map(Number);
  expect((num ?? 0) / (den ?? 1)).toBeCloseTo(recipe.rate.num / recipe.rate.den, 2);
  expect(sounds.map((s) => s.tags?.['title'] ?? s.tags?.['name'] ?? s.tags?.['handler_name'])).toEqual(
    recipe.lanes.map((lane) => lane.name),
  );
  const end = (take.result.facts?.picture.endUs ?? 0) - (take.result.fileOffsetUs ?? 0);
  expect(Math.abs(end - dueUs(recipe.rate, rows.at(-1) ?? 0) - periodUs(recipe.rate))).toBeLessThanOrEqual(tickUs + 1);
  expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
}

function expectStrips(take: MadeTake): void {
  const strips = readStripsOf(take.result.filePath, take.order.recipe.size, take.order.game);
  expect(strips.map((s) => s.strip?.number ?? null)).toEqual(filedRows(take).map((n) => take.columns.sourceFrame[n]));
}

describe('driven takes', () => {
  const rates: Recipe['rate'][] = [
    { num: 30, den: 1 },
    { num: 60, den: 1 },
    { num: 24000, den: 1001 },
  ];
  for (const rate of rates) {
    it.each([
      [640, 360],
      [320, 180],
    ])(
      `at ${rate.num}/${rate.den}, filed at %dx%d: every strip is the ledger's source frame, ffprobe agrees`,
      async (widthPx, heightPx) => {
        const take = await bench.make({ recipe: { rate }, size: { widthPx, heightPx }, order: { dueFrames: 75 } });
        expect(take.result.end).toBe('length');
        expect(filedRows(take)).toHaveLength(75);
        expectStrips(take);
        expectAgreement(take);
      },
    );
  }

  it('at 480 fps from a game that runs free: no time stamp is lost in the container’s milliseconds', async () => {
    const take = await bench.make({
      recipe: { rate: { num: 480, den: 1 } },
      game: { capFps: null },
      order: { dueFrames: 120 },
    });
    expectStrips(take);
    expectAgreement(take);
  });

  it('a Matroska file is read by mkvmerge without a warning, with names and the first lane as default', async () => {
    const take = await bench.make({
      recipe: {
        lanes: [
          { name: 'Alles, zusammen', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 },
          { name: 'Voice', sources: ['voice'], codec: 'opus', bitrateKbps: 96 },
        ],
      },
    });
    const seen = mkvmerge(take.result.filePath);
    expect([...seen.errors, ...seen.warnings]).toEqual([]);
    expect(seen.tracks.map((t) => t.properties.track_name)).toEqual([undefined, 'Alles, zusammen', 'Voice']);
    expect(seen.tracks.map((t) => t.properties.default_track)).toEqual([true, true, false]);
    // Opus works in pieces of 20 ms, so its track ends up to one of them later.
    expect(Math.abs((seen.container.properties.duration ?? 0) / 1e9 - 1.5)).toBeLessThanOrEqual(0.021);
    expectAgreement(take);
  });

  it.each([['fragmented-mp4'], ['mp4']] as const)(
    '%s holds B-frames, four kinds of lane and full range',
    async (container) => {
      const take = await bench.make({
        suffix: 'mp4',
        recipe: {
          container,
          lanes: (['flac', 'aac', 'opus'] as const)
            .map((codec) => ({ name: codec.toUpperCase(), sources: ['game'] as const, codec, bitrateKbps: 128 }))
            .map((l) => ({ ...l, sources: [...l.sources] })),
        },
        encode: { bFrames: 2, effort: 'light', range: 'full', keyDistanceFrames: 30 },
      });
      expectAgreement(take);
      expectStrips(take);
      expect(
        probeStreams(take.result.filePath)
          .slice(1)
          .map((s) => [s.codec_name, s.sample_rate, s.channels]),
      ).toEqual([
        ['flac', '48000', 2],
        ['aac', '48000', 2],
        ['opus', '48000', 2],
      ]);
      expect(probePictures(take.result.filePath).filter((p) => p.key).length).toBeGreaterThanOrEqual(3);
    },
  );

  it.each(['nearest', 'bilinear', 'bicubic', 'area', 'lanczos', 'spline'] as const)(
    'the %s filter keeps every strip readable at 480x270',
    async (filter) => {
      const take = await bench.make({ size: { widthPx: 480, heightPx: 270, filter }, order: { dueFrames: 20 } });
      expectStrips(take);
    },
  );

  // ITU-T H.264, Annex C: bits of any stretch <= rate x time + buffer; the buffer is a second here.
  it('constant bitrate fills its leaky bucket and never overflows it, variable keeps under its ceiling', async () => {
    const seconds = 6;
    const expectBucket = (take: MadeTake, bitsPerSecond: number) => {
      let level = 0;
      for (const picture of probePictures(take.result.filePath)) {
        level = Math.max(0, level - bitsPerSecond / 60) + picture.bytes * 8;
        expect(level).toBeLessThanOrEqual(bitsPerSecond * 1.02);
      }
    };
    const rateOf = (take: MadeTake) => ((take.result.facts?.picture.pictureBytes ?? 0) * 8) / seconds / 1000;
    const constant = await bench.make({
      encode: { rateControl: 'constant-bitrate', bitrateKbps: 2000 },
      order: { dueFrames: 60 * seconds },
    });
    expectBucket(constant, 2e6);
    expect(Math.abs(rateOf(constant) - 2000)).toBeLessThan(2000 / seconds);
    const variable = await bench.make({
      encode: { rateControl: 'variable-bitrate', bitrateKbps: 800, ceilingKbps: 1200 },
      order: { dueFrames: 60 * seconds },
    });
    expectBucket(variable, 1.2e6);
    expect(rateOf(variable)).toBeGreaterThan(400);
  });

  it('a lower quality number gives a larger file, a heavier effort a smaller one', async () => {
    const bytes = async (encode: Partial<Recipe['encode']>) =>
      (await bench.make({ encode })).result.facts?.picture.pictureBytes ?? 0;
    const plain = await bytes({});
    expect(await bytes({ quality: 14 })).toBeGreaterThan(plain * 1.3);
    expect(await bytes({ effort: 'middle' })).toBeLessThan(plain * 0.8);
  });

  // Every encoder and container: matrix/tinyTakes.matrix.ts.
  it.each([
    ['hevc-software', 'mp4', 2],
    ['hevc-software', 'fragmented-mp4', 1],
  ] as const)('%s in %s of %d frames, fewer than its B-frames', (encoder, container, frames) =>
    expectTinyTake(bench, { encoder, container, frames, bFrames: 2 }),
  );

  it('key pictures come as often as asked', async () => {
    const take = await bench.make({ encode: { keyDistanceFrames: 15 }, order: { dueFrames: 60 } });
    expect(probePictures(take.result.filePath).flatMap((p, i) => (p.key ? [i] : []))).toEqual([0, 15, 30, 45]);
  });

  it('says in words why a take cannot begin, again and again: threads that still load end nobody', async () => {
    const order = bench.orderOf();
    for (let i = 0; i < 8; i++)
      await expect(bench.make({ order: { filePath: `${order.driveFolder}/missing\0/x.mkv` } })).rejects.toThrow(
        /drive/,
      );
  });
});

describe('the practice game’s counts', () => {
  it('are conserved: presented = new + passed over + not reached', async () => {
    for (const game of [{ capFps: 120 }, { capFps: 25 }, { capFps: null }]) {
      const { result } = await bench.make({ game });
      const { summary } = result;
      expect((summary.presented ?? NaN) - (summary.passedOver ?? NaN) - (summary.notReached ?? NaN)).toBe(
        summary.fates['new'],
      );
      expect(fates.reduce((sum, fate) => sum + (summary.fates[fate] ?? 0), 0)).toBe(90);
    }
  });
});
