import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { readStrip, type StripReading } from '@mellow/practice';

/** Reference tools read what the recorder wrote: ffprobe and ffmpeg (FFmpeg project), mkvmerge (MKVToolNix). */

const streamSchema = z.object({
  codec_type: z.string(),
  codec_name: z.string(),
  codec_tag_string: z.string().optional(),
  profile: z.string().optional(),
  level: z.number().optional(),
  pix_fmt: z.string().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
  r_frame_rate: z.string(),
  time_base: z.string(),
  color_range: z.string().optional(),
  color_space: z.string().optional(),
  color_primaries: z.string().optional(),
  color_transfer: z.string().optional(),
  nb_read_packets: z.string().optional(),
  sample_rate: z.string().optional(),
  channels: z.number().optional(),
  tags: z.record(z.string(), z.string()).optional(),
  disposition: z.object({ default: z.number() }).optional(),
});
const packetSchema = z.object({
  stream_index: z.number(),
  pts_time: z.string().optional(),
  size: z.string(),
  flags: z.string(),
});

export type ProbedStream = z.infer<typeof streamSchema>;

const run = (command: string, args: string[]): Buffer =>
  execFileSync(command, args, { maxBuffer: 1 << 30, stdio: ['ignore', 'pipe', 'pipe'] });

export function probeStreams(path: string): ProbedStream[] {
  const json: unknown = JSON.parse(
    run('ffprobe', ['-v', 'error', '-count_packets', '-show_streams', '-of', 'json', path]).toString(),
  );
  return z.object({ streams: z.array(streamSchema) }).parse(json).streams;
}

/** Pictures of the first track in order of presentation: time in microseconds, size, whether key. */
export function probePictures(path: string): { timeUs: number; bytes: number; key: boolean }[] {
  const json: unknown = JSON.parse(
    run('ffprobe', ['-v', 'error', '-select_streams', 'v:0', '-show_packets', '-of', 'json', path]).toString(),
  );
  return z
    .object({ packets: z.array(packetSchema) })
    .parse(json)
    .packets.map((p) => ({ timeUs: Number(p.pts_time) * 1e6, bytes: Number(p.size), key: p.flags.startsWith('K') }))
    .sort((a, b) => a.timeUs - b.timeUs);
}

/** Decodes every picture to luma and reads its strip; null where one is unreadable. */
export function readStripsOf(
  path: string,
  size: { widthPx: number; heightPx: number },
  game: { widthPx: number; heightPx: number },
): { strip: StripReading | null; luma: Uint8Array }[] {
  const raw = run('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-map',
    '0:v:0',
    '-fps_mode',
    'passthrough',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    '-',
  ]);
  const frame = size.widthPx * size.heightPx;
  return Array.from({ length: raw.length / frame }, (_, i) => {
    const luma = new Uint8Array(raw.buffer, raw.byteOffset + i * frame, frame);
    return { strip: readStrip(luma, size.widthPx, size.widthPx, size.heightPx, game.widthPx, game.heightPx), luma };
  });
}

/** The last picture's three planes of 4:2:0 as they are stored: FFmpeg changes neither range nor matrix here. */
export function decodePlanes(path: string, { widthPx, heightPx }: { widthPx: number; heightPx: number }) {
  const raw = run('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v:0', '-f', 'rawvideo', '-']);
  const luma = widthPx * heightPx;
  const last = raw.subarray(raw.length - (luma * 3) / 2);
  return [last.subarray(0, luma), last.subarray(luma, luma * 1.25), last.subarray(luma * 1.25)] as const;
}

/** Every picture as red, green and blue, by what the file says of its colours. */
export const decodeRgb = (path: string): Buffer =>
  run('ffmpeg', [
    ...['-v', 'error', '-i', path, '-map', '0:v:0', '-fps_mode', 'passthrough'],
    ...['-sws_flags', 'accurate_rnd+full_chroma_int', '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-'],
  ]);

/** Luma of every picture, one after another. */
export const decodeLuma = (path: string): Buffer =>
  run('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-map',
    '0:v:0',
    '-fps_mode',
    'passthrough',
    '-vf',
    'extractplanes=y',
    '-f',
    'rawvideo',
    '-',
  ]);

/** Codec strings that FFmpeg's DASH muxer writes for a file, lower case; nothing is encoded again. */
export function tagsOfDash(path: string): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-dash-'));
  try {
    run('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v:0', '-c', 'copy', '-f', 'dash', join(folder, 'out.mpd')]);
    return [...readFileSync(join(folder, 'out.mpd'), 'utf8').matchAll(/codecs="([^"]+)"/g)].map((m) =>
      (m[1] ?? '').toLowerCase(),
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Samples of one sound track as mono floats at 48 kHz from time 0 of the file; what a codec puts before it is cut off. */
export function decodeSound(path: string, track: number): Float32Array {
  const raw = run('ffmpeg', [
    '-v',
    'error',
    '-copyts',
    '-i',
    path,
    '-map',
    `0:a:${track}`,
    '-af',
    'aresample=async=0:first_pts=0',
    '-ac',
    '1',
    '-ar',
    '48000',
    '-f',
    'f32le',
    '-',
  ]);
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

const mkvSchema = z.object({
  errors: z.array(z.string()),
  warnings: z.array(z.string()),
  container: z.object({ properties: z.object({ duration: z.number().optional() }).loose() }),
  tracks: z.array(
    z.object({
      type: z.string(),
      codec: z.string(),
      properties: z.object({ track_name: z.string().optional(), default_track: z.boolean().optional() }).loose(),
    }),
  ),
});
export const mkvmerge = (path: string) => mkvSchema.parse(JSON.parse(run('mkvmerge', ['-J', path]).toString()));

/** RMS level of a track as sox finds it (`stat`, "RMS amplitude"), dBFS. */
export function soundLevelBySox(path: string, track: number): number {
  const raw = run('ffmpeg', ['-v', 'error', '-i', path, '-map', `0:a:${track}`, '-f', 'wav', '-']);
  const { stderr } = spawnSync('sox', ['-t', 'wav', '-', '-n', 'stat'], { input: raw, encoding: 'utf8' });
  const found = /RMS\s+amplitude:\s+([\d.]+)/.exec(stderr)?.[1];
  if (!found) throw new Error(`sox told no level: ${stderr}`);
  return 20 * Math.log10(Number(found));
}
