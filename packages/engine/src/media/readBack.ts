import { statSync } from 'node:fs';
import type { FilePictures } from '@mellow/core';
import type { MediaFacts } from '@mellow/model';
import {
  AVERROR_EOF,
  AVMEDIA_TYPE_AUDIO,
  AVMEDIA_TYPE_VIDEO,
  type AVMediaType,
  type AVPixelFormat,
} from 'node-av/constants';
import { avGetCodecName, avGetPixFmtName, FFmpegError, FormatContext, Packet, type Stream } from 'node-av/lib';
import { pictureProfileName, colourName, rangeName } from './codedNames';

export interface ReadBack {
  facts: MediaFacts;
  pictures: FilePictures;
}

/** Reads a finished file to its end: every packet of the picture track, and what the tracks say of themselves. */
export function readBack(path: string): ReadBack {
  const context = new FormatContext();
  FFmpegError.throwIfError(context.openInputSync(path), 'opening the file');
  try {
    FFmpegError.throwIfError(context.findStreamInfoSync(null), 'reading the file');
    return readPackets(context, path);
  } finally {
    context.closeInputSync();
  }
}

const isType = (stream: Stream, type: AVMediaType): boolean => stream.codecpar.codecType === type;

function readPackets(context: FormatContext, path: string): ReadBack {
  const streams = context.streams;
  const video = streams.find((stream) => isType(stream, AVMEDIA_TYPE_VIDEO));
  if (!video) throw new Error('The file has no picture track.');
  const sounds = streams.filter((stream) => isType(stream, AVMEDIA_TYPE_AUDIO));
  const timeUs: number[] = [];
  const bytes: number[] = [];
  const key: boolean[] = [];
  const soundBytes = new Map<number, number>();
  const soundEndUs = new Map<number, number>();
  const toUs = (stream: Stream, ticks: bigint) => (Number(ticks) * stream.timeBase.num * 1e6) / stream.timeBase.den;
  const packet = new Packet();
  packet.alloc();
  for (;;) {
    const code = context.readFrameSync(packet);
    if (code === AVERROR_EOF) break;
    FFmpegError.throwIfError(code, 'reading the file');
    if (packet.streamIndex === video.index) {
      timeUs.push(toUs(video, packet.pts));
      bytes.push(packet.size);
      key.push(packet.isKeyframe);
    } else {
      const stream = streams[packet.streamIndex];
      if (stream) {
        soundBytes.set(stream.index, (soundBytes.get(stream.index) ?? 0) + packet.size);
        soundEndUs.set(
          stream.index,
          Math.max(soundEndUs.get(stream.index) ?? 0, toUs(stream, packet.pts + packet.duration)),
        );
      }
    }
    packet.unref();
  }
  packet.free();
  const p = video.codecpar;
  const rate = video.avgFrameRate.num > 0 ? video.avgFrameRate : video.rFrameRate;
  const told = video.rFrameRate.num > 0 && video.rFrameRate.den > 0 ? video.rFrameRate : rate;
  const periodUs = told.num > 0 ? (told.den * 1e6) / told.num : 0;
  const span = timeUs.reduce((range, t) => ({ first: Math.min(range.first, t), last: Math.max(range.last, t) }), {
    first: Infinity,
    last: -Infinity,
  });
  const facts: MediaFacts = {
    bytes: statSync(path).size,
    formatName: context.iformat?.name ?? 'unknown',
    durationUs: context.duration > 0n ? Number(context.duration) : null,
    picture: {
      codec: avGetCodecName(p.codecId) ?? 'unknown',
      profile: pictureProfileName(avGetCodecName(p.codecId) ?? '', p.profile),
      level: p.level,
      widthPx: p.width,
      heightPx: p.height,
      pixelFormat: avGetPixFmtName(p.format as AVPixelFormat) ?? 'unknown',
      range: rangeName(p.colorRange),
      matrix: colourName(p.colorSpace),
      primaries: colourName(p.colorPrimaries),
      transfer: colourName(p.colorTrc),
      rate: told.num > 0 ? { num: told.num, den: told.den } : null,
      packets: timeUs.length,
      keys: key.filter(Boolean).length,
      pictureBytes: bytes.reduce((sum, b) => sum + b, 0),
      firstUs: timeUs.length ? span.first : null,
      endUs: timeUs.length ? span.last + periodUs : null,
    },
    lanes: sounds.map((stream) => {
      const tags = stream.metadata?.getAll() ?? {};
      return {
        codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
        name: tags['title'] ?? tags['name'] ?? tags['handler_name'] ?? '',
        sampleRateHz: stream.codecpar.sampleRate,
        channels: stream.codecpar.channels,
        bytes: soundBytes.get(stream.index) ?? 0,
        durationUs: soundEndUs.get(stream.index) ?? 0,
      };
    }),
  };
  return { facts, pictures: { timeUs, bytes, key } };
}
