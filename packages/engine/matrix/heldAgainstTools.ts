import { execFileSync } from 'node:child_process';
import { dueUs, fileMatrix, fileRange, isFiled, periodUs } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { z } from 'zod';
import type { MadeTake } from '../test/support/drivenTake';
import { mkvmerge, probePictures, probeStreams, readStripsOf } from '../test/support/probe';

/** What reference tools (ffprobe, ffmpeg, mkvmerge) say of a take's file, held against recipe and ledger. */

const codecNames: Partial<Record<Recipe['encode']['encoder'], string>> = {
  'avc-software': 'h264',
  'hevc-software': 'hevc',
  'av1-software': 'av1',
  'vp9-software': 'vp9',
  'ffv1-software': 'ffv1',
  'utvideo-software': 'utvideo',
  'mjpeg-software': 'mjpeg',
};
const matrixNames = { rgb: /^gbr$/, bt601: /^(smpte170m|bt470bg)$/, bt709: /^bt709$/ } as const;

export const filedRows = ({ columns }: MadeTake): number[] =>
  Array.from({ length: columns.length }, (_, n) => n).filter((n) => isFiled(columns, n));

export function expectFileHolds(take: MadeTake): void {
  const { recipe } = take.order;
  const rows = filedRows(take);
  expect(take.result.disagreements).toEqual([]);
  expect(rows).toHaveLength(take.order.dueFrames);
  const pictures = probePictures(take.result.filePath);
  const tickUs = recipe.container === 'matroska' ? 1001 : 2;
  expect(pictures).toHaveLength(rows.length);
  pictures.forEach((picture, i) => {
    const off = Math.abs(picture.timeUs - dueUs(recipe.rate, rows[i] ?? -1) - (take.result.fileOffsetUs ?? 0));
    if (off > tickUs) throw new Error(`picture ${i} stands ${off} us beside its due`);
  });
  const [video, ...sounds] = probeStreams(take.result.filePath);
  expect(video).toMatchObject({
    codec_name: codecNames[recipe.encode.encoder],
    width: recipe.size.widthPx,
    height: recipe.size.heightPx,
  });
  // Ut Video and FFV1 in RGB carry no range of their own; readers take 0 to 255.
  if (video?.color_range) expect(video.color_range).toBe(fileRange(recipe) === 'full' ? 'pc' : 'tv');
  if (video?.color_space) expect(video.color_space).toMatch(matrixNames[fileMatrix(recipe)]);
  expect(sounds.map((s) => s.tags?.['title'] ?? s.tags?.['handler_name'])).toEqual(
    recipe.lanes.map((lane) => lane.name),
  );
  expect(take.result.facts?.lanes.map((lane) => lane.name)).toEqual(recipe.lanes.map((lane) => lane.name));
  const lengthUs = dueUs(recipe.rate, rows.length);
  for (const lane of take.result.facts?.lanes ?? [])
    expect(Math.abs(lane.durationUs - lengthUs)).toBeLessThanOrEqual(45_000);
  expect(take.result.facts?.picture.keys).toBe(pictures.filter((picture) => picture.key).length);
  if (recipe.container === 'matroska') {
    const seen = mkvmerge(take.result.filePath);
    expect([...seen.errors, ...seen.warnings]).toEqual([]);
  }
}

/** Every decoded picture shows the source frame that the ledger names. */
export function expectStripsHold(take: MadeTake): void {
  const strips = readStripsOf(take.result.filePath, take.order.recipe.size, take.order.game);
  expect(strips.map((s) => s.strip?.number ?? null)).toEqual(filedRows(take).map((n) => take.columns.sourceFrame[n]));
}

const packetsSchema = z.object({
  packets: z.array(z.object({ pts: z.number(), dts: z.number(), duration: z.number().optional() })),
});

function packetsOf(path: string, stream: string): { pts: number; dts: number; duration?: number | undefined }[] {
  const text = execFileSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', stream, '-show_entries', 'packet=pts,dts,duration', '-of', 'json', path],
    { maxBuffer: 1 << 28 },
  ).toString();
  return packetsSchema.parse(JSON.parse(text)).packets;
}

/** A plain MP4 for editors: one constant step of pictures and of samples, no decode time twice, tags that editors take. */
export function expectConstantMp4(take: MadeTake, path: string): void {
  const { recipe } = take.order;
  const rows = filedRows(take);
  const gaps = rows.some((n, i) => n !== i);
  const [video, ...sounds] = probeStreams(path);
  expect(video?.nb_read_packets).toBe(String(rows.length));
  if (recipe.encode.encoder === 'hevc-software') expect(video?.codec_tag_string).toBe('hvc1');
  const packets = packetsOf(path, 'v:0');
  const steps = new Set(packets.slice(1).map((packet, i) => packet.dts - packets[i]!.dts));
  if (!gaps) expect(steps.size).toBe(1);
  for (const step of steps) expect(step).toBeGreaterThan(0);
  const [num, den] = (video?.time_base ?? '1/1').split('/').map(Number);
  const stepUs = ([...steps][0]! * num! * 1e6) / den!;
  if (!gaps) expect(stepUs).toBeCloseTo(periodUs(recipe.rate), 3);
  const shown = packets.map((packet) => packet.pts).sort((a, b) => a - b);
  expect(shown.every((pts, i) => i === 0 || pts > shown[i - 1]!)).toBe(true);
  expect(sounds).toHaveLength(recipe.lanes.length);
  recipe.lanes.forEach((lane, i) => {
    const sound = packetsOf(path, `a:${i}`);
    const lengths = new Set(sound.slice(0, -1).map((packet) => packet.duration));
    expect(lengths.size).toBe(1);
    if (lane.codec === 'aac') expect([...lengths]).toEqual([1024]);
    expect(sounds[i]?.tags?.['title'] ?? sounds[i]?.tags?.['handler_name']).toBe(lane.name);
  });
}
