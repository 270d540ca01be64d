import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { avcProfile, codecString, encoderFacts, fitInto, isFiled, levelOf } from '@mellow/core';
import { runMediaJob } from '@mellow/engine';
import type { EncoderName, Recipe } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { makeEncoded, softwareEncoders } from './support/encoderTake';
import { decodeLuma, probeStreams, readStripsOf, tagsOfDash } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const software = softwareEncoders;
const make = (...asked: Parameters<typeof makeEncoded> extends [unknown, ...infer Rest] ? Rest : never) =>
  makeEncoded(bench, ...asked);

describe('lossless is lossless', () => {
  let reference: Buffer;
  beforeAll(
    async () =>
      void (reference = decodeLuma(
        (await make('utvideo-software', { rateControl: 'lossless' }, { size: { widthPx: 640, heightPx: 360 } })).result
          .filePath,
      )),
  );
  it.each(software.filter((e) => e !== 'utvideo-software' && encoderFacts[e].rateControls.includes('lossless')))(
    '%s gives back the same samples as another lossless codec, strips included',
    async (encoder) => {
      const kept = await make(encoder, { rateControl: 'lossless' }, { size: { widthPx: 640, heightPx: 360 } });
      const a = decodeLuma(kept.result.filePath);
      expect(a.length).toBe(12 * 640 * 360);
      expect(Buffer.compare(a, reference)).toBe(0);
      expect(
        readStripsOf(kept.result.filePath, kept.order.recipe.size, kept.order.game).every((s) => s.strip !== null),
      ).toBe(true);
    },
  );
});

describe('profile, level and codec string', () => {
  it.each([
    ['high', {}],
    ['main', {}],
    ['baseline', {}],
    ['high', { bFrames: 2 }],
    ['high', { effort: 'lightest' }],
    ['high', { effort: 'lightest', bFrames: 2 }],
    ['high', { pixels: '4:4:4' }],
    ['high', { rateControl: 'lossless' }],
    ['high', { pixels: '4:2:0-10' }],
  ] as [Recipe['encode']['profile'], Partial<Recipe['encode']>][])(
    'AVC %s %o is the one the forecast names',
    async (profile, part) => {
      const take = await make('avc-software', { effort: 'light', profile, ...part });
      const video = probeStreams(take.result.filePath)[0];
      expect(video?.profile).toBe(avcProfile(take.order.recipe).name);
      expect(video?.level).toBe(levelOf(take.order.recipe)?.code);
    },
  );
  // FFmpeg's DASH muxer writes the string that it reads from the stream's own headers.
  it.each<[EncoderName, Partial<Recipe['encode']>]>([
    ['avc-software', {}],
    ['avc-software', { effort: 'light' }],
    ['avc-software', { effort: 'light', profile: 'main', bFrames: 2 }],
    ['avc-software', { pixels: '4:4:4', effort: 'light' }],
    ['avc-software', { pixels: '4:2:0-10', effort: 'light' }],
    ['av1-software', {}],
    ['av1-software', { pixels: '4:2:0-10' }],
    ['vp9-software', {}],
    ['vp9-software', { pixels: '4:2:0-10' }],
  ])('%s %o has the codec string that FFmpeg writes for it', async (encoder, part) => {
    const take = await make(encoder, part, { recipe: { container: 'fragmented-mp4' }, suffix: 'mp4' });
    // The long form of AV1 goes on with depth, colour and range; where they are the usual ones it may end after the depth.
    const [tag] = tagsOfDash(take.result.filePath);
    expect(tag?.startsWith((codecString(take.order.recipe) ?? 'none').toLowerCase())).toBe(true);
  });
  // Nothing in a packet of VP9 tells its level: the box of MP4 does (vpcC, VP9 in ISO base media file format).
  it.each([
    [60, 20],
    [120, 21],
  ])('VP9 of 320x180 at %d fps carries its level in MP4, and so does a copy', async (fps, level) => {
    const recipe = { container: 'fragmented-mp4', rate: { num: fps, den: 1 }, lanes: [] } as const;
    const take = await make('vp9-software', {}, { recipe: { ...recipe, lanes: [] }, suffix: 'mp4' });
    const { filePath } = take.result;
    const outPath = filePath.replace('.mp4', ' copy.mp4');
    await runMediaJob({ kind: 'rewrap', filePath, outPath, rate: recipe.rate });
    for (const path of [filePath, outPath]) {
      const bytes = readFileSync(path);
      // After the box's name come version, flags and profile.
      expect(bytes[bytes.indexOf('vpcC') + 9]).toBe(level);
    }
    expect(levelOf(take.order.recipe)?.code).toBe(level);
  });
  it.each<[EncoderName, Partial<Recipe['encode']>]>([
    ['hevc-software', { rateControl: 'lossless' }],
    ['hevc-software', { rateControl: 'lossless', pixels: '4:2:0-10' }],
    ['avc-software', { pixels: '4:2:0-10', quality: 0, rateControl: 'constant-quality' }],
    ['avc-software', { pixels: '4:2:0-10', quality: 0, rateControl: 'constant-quantiser' }],
    ['avc-software', { quality: 0, rateControl: 'constant-quality' }],
  ])('%s %o has the level and the profile that are foretold', async (encoder, part) => {
    const take = await make(encoder, { ...part, effort: 'light' });
    const video = probeStreams(take.result.filePath)[0];
    expect(video?.level).toBe(levelOf(take.order.recipe)?.code);
    if (encoder === 'avc-software') expect(video?.profile).toBe(avcProfile(take.order.recipe).name);
  });
  it('HEVC carries in its configuration record what its string says (ISO/IEC 14496-15, 8.3.3.1)', async () => {
    const take = await make('hevc-software', {}, { recipe: { container: 'fragmented-mp4' }, suffix: 'mp4' });
    const dump = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_streams',
      '-show_data',
      '-select_streams',
      'v:0',
      take.result.filePath,
    ]).toString();
    const hex = [...dump.matchAll(/^[0-9a-f]{8}: ((?:[0-9a-f]{4} ?)+)/gm)]
      .map((m) => (m[1] ?? '').replaceAll(' ', ''))
      .join('');
    const record = Buffer.from(hex, 'hex');
    const [, profile, compatibility, level] =
      /^hvc1\.(\d)\.(\w+)\.L(\d+)\./.exec(codecString(take.order.recipe) ?? '') ?? [];
    expect(record[1]! & 31).toBe(Number(profile));
    // The compatibility flags are written in reverse bit order.
    const reversed = parseInt(record.readUInt32BE(2).toString(2).padStart(32, '0').split('').reverse().join(''), 2);
    expect(reversed.toString(16)).toBe(compatibility);
    expect(record[12]).toBe(Number(level));
    expect(probeStreams(take.result.filePath)[0]?.codec_tag_string).toBe('hvc1');
  });
});

describe('a game of another shape than the file', () => {
  it.each(['bars', 'fill', 'stretch'] as const)('%s lies as computed', async (fit) => {
    const size = { widthPx: 320, heightPx: 320, fit };
    const take = await make('utvideo-software', { rateControl: 'lossless' }, { size });
    const frame = decodeLuma(take.result.filePath).subarray(0, 320 * 320);
    const rows = Array.from({ length: 320 }, (_, y) => frame.subarray(y * 320, (y + 1) * 320));
    const black = rows.filter((row) => row.every((v) => v <= 17)).length;
    const { barsPx } = fitInto(take.order.game, { widthPx: 320, heightPx: 320 }, fit);
    expect(barsPx.top).toBe(fit === 'bars' ? 70 : 0);
    // The scaler may blend the row beside a bar.
    expect(Math.abs(black - 2 * barsPx.top)).toBeLessThanOrEqual(2);
    expect(Array.from({ length: take.columns.length }, (_, n) => n).every((n) => isFiled(take.columns, n))).toBe(true);
  });
});
