import { writeFileSync } from 'node:fs';
import { AV_PIX_FMT_YUVJ420P, AVCOL_RANGE_JPEG, AVSEEK_FLAG_BACKWARD, FF_ENCODER_MJPEG } from 'node-av/constants';
import type { FormatContext } from 'node-av/lib';
import { Codec, CodecContext, FFmpegError, Frame, Packet, Rational, type Stream } from 'node-av/lib';
import { decodedPictures, openDecoder, pictureTrack } from './decodedPictures';
import { filterInputOf, openPictureFilter } from '../size/pictureFilter';
import { openMedia } from './readBack';
import { requireNative } from '../native/requireNative';

const stillWidthPx = 480;

/** Writes the picture at or after a time as a small JPEG; the last one where the file ends before. */
export function writeStill(path: string, outPath: string, atUs: number): void {
  const input = openMedia(path);
  try {
    const frame = decodeUntil(input, pictureTrack(input), atUs);
    writeFileSync(outPath, encodeJpeg(frame));
    frame.free();
  } finally {
    input.closeInputSync();
  }
}

function decodeUntil(input: FormatContext, stream: Stream, atUs: number): Frame {
  const decoder = openDecoder(stream, 1);
  const wanted = (atUs * stream.timeBase.den) / (stream.timeBase.num * 1e6);
  // From the key picture before the time on; a file that cannot be sought in is decoded from its beginning.
  input.seekFrameSync(stream.index, BigInt(Math.max(0, Math.floor(wanted))), AVSEEK_FLAG_BACKWARD);
  const kept = new Frame();
  kept.alloc();
  let have = false;
  for (const frame of decodedPictures(input, stream, decoder)) {
    kept.unref();
    kept.ref(frame);
    have = true;
    if (Number(frame.pts) >= wanted) break;
  }
  decoder.freeContext();
  if (!have) throw new Error('The file holds no picture that can be decoded.');
  return kept;
}

function encodeJpeg(picture: Frame): Uint8Array {
  const heightPx = Math.round((stillWidthPx * picture.height) / picture.width / 2) * 2;
  // A JPEG says nothing of its matrix; readers take Rec. 601, full range.
  const chain = `scale=${stillWidthPx}:${heightPx}:flags=area:out_color_matrix=bt601:out_range=pc,format=yuvj420p`;
  const filter = openPictureFilter(filterInputOf(picture), chain);
  const small = new Frame();
  small.alloc();
  filter.run(picture, small);
  const codec = requireNative(Codec.findEncoderByName(FF_ENCODER_MJPEG), 'JPEG encoder');
  const encoder = new CodecContext();
  encoder.allocContext3(codec);
  encoder.width = small.width;
  encoder.height = small.height;
  encoder.pixelFormat = AV_PIX_FMT_YUVJ420P;
  encoder.colorRange = AVCOL_RANGE_JPEG;
  encoder.timeBase = new Rational(1, 25);
  encoder.qMin = 3;
  encoder.qMax = 3;
  FFmpegError.throwIfError(encoder.open2Sync(codec, null), 'opening the JPEG encoder');
  small.pts = 0n;
  FFmpegError.throwIfError(encoder.sendFrameSync(small), 'encoding a still');
  FFmpegError.throwIfError(encoder.sendFrameSync(null), 'encoding a still');
  const packet = new Packet();
  packet.alloc();
  FFmpegError.throwIfError(encoder.receivePacketSync(packet), 'encoding a still');
  const bytes = new Uint8Array(packet.data ?? []);
  packet.free();
  small.free();
  encoder.freeContext();
  filter.free();
  return bytes;
}
