import { encoderFacts, withEncoder } from '@mellow/core';
import { encoders, type EncoderName, type PixelKind, type Recipe } from '@mellow/model';
import type { MadeTake, TakeBench } from './drivenTake';
import { probeStreams } from './probe';

export const softwareEncoders = encoders.filter((name) => encoderFacts[name].place === 'software');
/** What ffprobe (FFmpeg project) calls each standard and each kind of pixels. */
const codecNames: Record<string, string> = {
  AVC: 'h264',
  HEVC: 'hevc',
  AV1: 'av1',
  VP9: 'vp9',
  FFV1: 'ffv1',
  'Ut Video': 'utvideo',
  'Motion JPEG': 'mjpeg',
};
const pixelNames: Record<PixelKind, RegExp> = {
  '4:2:0': /^yuvj?420p$/,
  '4:2:0-10': /^yuv420p10le$/,
  '4:4:4': /^yuvj?444p$/,
  rgb: /^(gbrp|bgr0|bgra|rgb24)$/,
};

const few = { dueFrames: 12 };
export const smallPictures = { widthPx: 320, heightPx: 180 };

/** A short driven take of a recipe; what a person could choose is checked as they would get it. */
export const makeEncoded = (
  bench: TakeBench,
  encoder: EncoderName,
  part: Partial<Recipe['encode']> = {},
  rest: { recipe?: Partial<Omit<Recipe, 'size' | 'encode'>>; size?: Partial<Recipe['size']>; suffix?: string } = {},
): Promise<MadeTake> => {
  const base = bench.orderOf({ encode: part }).recipe;
  const { encode, container } = withEncoder({ ...base, encode: { ...base.encode, ...part } }, encoder);
  return bench.make({
    ...rest,
    recipe: { container, ...rest.recipe },
    size: { ...smallPictures, ...rest.size },
    encode: { ...encode, ...part, encoder },
    order: few,
  });
};

/** What the recorder says of the file is what ffprobe says, and what was asked. */
export function expectRead(take: MadeTake): void {
  const { recipe } = take.order;
  const facts = encoderFacts[recipe.encode.encoder];
  const video = probeStreams(take.result.filePath)[0];
  expect(take.result.end).toBe('length');
  expect(video).toMatchObject({
    codec_name: codecNames[facts.standard],
    width: recipe.size.widthPx,
    height: recipe.size.heightPx,
    nb_read_packets: '12',
  });
  expect(video?.pix_fmt).toMatch(pixelNames[recipe.encode.pixels]);
  expect(take.result.facts?.picture).toMatchObject({ codec: video?.codec_name, pixelFormat: video?.pix_fmt });
  expect(take.log.filter((line) => line.includes('disagree'))).toEqual([]);
}
