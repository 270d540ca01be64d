import { ssimOfLuma, type SceneKind } from '@mellow/core';
import type { PracticeGame, Recipe } from '@mellow/model';
import { createPicture, practiceScene, slotsPerSecond, warmUpUs, type Picture420 } from '@mellow/practice';
import { AVERROR_EAGAIN, AVERROR_EOF } from 'node-av/constants';
import { Codec, CodecContext, FFmpegError, Frame, Packet } from 'node-av/lib';
import { nativeEncoders, nativePixels } from '../../packages/engine/src/native/encoderNames';
import { openPictureEncoder } from '../../packages/engine/src/encode/pictureEncoder';
import {
  createNativeFrame,
  fileTags,
  fillNativeFrame,
  readNativeFrame,
} from '../../packages/engine/src/native/pictureFrames';
import { pixelLayout, planesOver } from '../../packages/engine/src/native/pixelLayout';
import { requireNative } from '../../packages/engine/src/native/requireNative';
import { createSizer, sourceLayout } from '../../packages/engine/src/size/sizer';

/** What one kind of passage came to. */
export interface PassageFound {
  frames: number;
  bitsPerPixel: number;
  /** Of the luma that the encoder was given against what its packets decode to; null where it does not decode to 4:2:0. */
  ssim: number | null;
}

export interface DrivenEncode {
  frames: number;
  passages: Record<SceneKind, PassageFound>;
  /** Processor time of a frame in the encoder, its own threads included, and time on the clock. */
  processorUs: number;
  clockUs: number;
}

/** Frames of the passages that a recipe's dues meet, one after the other, as the encoder gets them. */
export function sourceFrames(game: PracticeGame, recipe: Recipe, frames: number): Frame[] {
  const pixels = nativePixels(recipe.encode);
  const to = pixelLayout(pixels.name, recipe.size.widthPx, recipe.size.heightPx, true);
  const target = planesOver(new SharedArrayBuffer(to.bytes), 0, to);
  const scene = practiceScene(game);
  const picture: Picture420 = createPicture(game.widthPx, game.heightPx);
  const planes = [picture.y, picture.u, picture.v].map((p) => Buffer.from(p.buffer, p.byteOffset, p.byteLength));
  const sizer = createSizer(sourceLayout(game), to, recipe);
  const perFrame = (slotsPerSecond(game) * recipe.rate.den) / recipe.rate.num;
  const out = Array.from({ length: frames }, (_, n) => {
    scene.draw(picture, Math.round((warmUpUs / 1e6) * slotsPerSecond(game) + n * perFrame));
    sizer.run(planes, target);
    const frame = createNativeFrame(recipe.size.widthPx, recipe.size.heightPx, fileTags(recipe), pixels.format);
    fillNativeFrame(frame, target, to);
    return frame;
  });
  sizer.free();
  return out;
}

/** Encodes frames without a clock, decodes what came out and holds it against what went in. @param kindOf passage of a frame */
export function drivenEncode(recipe: Recipe, frames: readonly Frame[], kindOf: (n: number) => SceneKind): DrivenEncode {
  const encoder = openPictureEncoder(recipe, 0, false);
  const packet = new Packet();
  packet.alloc();
  const packets: Packet[] = [];
  const kinds = { calm: tally(), busy: tally(), loading: tally() };
  const drain = (): void => {
    for (;;) {
      const code = encoder.receive(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding');
      kinds[kindOf(Number(packet.pts))].bytes += packet.size;
      packets.push(requireNative(packet.clone(), 'packet'));
      packet.unref();
    }
  };
  const before = process.cpuUsage();
  const atMs = performance.now();
  frames.forEach((frame, n) => {
    frame.pts = BigInt(n);
    kinds[kindOf(n)].frames++;
    FFmpegError.throwIfError(encoder.send(frame), 'encoding');
    drain();
  });
  FFmpegError.throwIfError(encoder.send(null), 'closing the encoder');
  drain();
  const used = process.cpuUsage(before);
  const clockUs = ((performance.now() - atMs) * 1000) / frames.length;
  // Lossless is equal by definition, and some of its decoders want the head of a file.
  if (recipe.encode.rateControl !== 'lossless')
    for (const { n, ssim } of similarities(packets, frames, recipe)) kinds[kindOf(n)].ssim.push(ssim);
  for (const one of packets) one.free();
  packet.free();
  encoder.free();
  return {
    frames: frames.length,
    passages: { calm: found(kinds.calm), busy: found(kinds.busy), loading: found(kinds.loading) },
    processorUs: (used.user + used.system) / frames.length,
    clockUs,
  };

  function found({ frames: count, bytes, ssim }: Tally): PassageFound {
    const pixels = recipe.size.widthPx * recipe.size.heightPx * Math.max(1, count);
    const mean = ssim.length ? ssim.reduce((sum, s) => sum + s, 0) / ssim.length : null;
    return { frames: count, bitsPerPixel: (bytes * 8) / pixels, ssim: mean };
  }
}

interface Tally {
  frames: number;
  bytes: number;
  ssim: number[];
}
const tally = (): Tally => ({ frames: 0, bytes: 0, ssim: [] });

function similarities(
  packets: readonly Packet[],
  frames: readonly Frame[],
  recipe: Recipe,
): { n: number; ssim: number }[] {
  const name = nativePixels(recipe.encode).name;
  if (name !== 'yuv420p' && name !== 'yuvj420p') return [];
  const decoderCodec = requireNative(Codec.findDecoder(nativeEncoders[recipe.encode.encoder].codecId), 'decoder');
  const decoder = new CodecContext();
  decoder.allocContext3(decoderCodec);
  decoder.threadCount = 1;
  FFmpegError.throwIfError(decoder.open2Sync(decoderCodec, null), 'opening the decoder');
  const layout = pixelLayout('yuv420p', recipe.size.widthPx, recipe.size.heightPx, true);
  const planes = (): Buffer[] => planesOver(new SharedArrayBuffer(layout.bytes), 0, layout);
  const [given, found] = [planes(), planes()];
  const luma = (from: readonly Buffer[]) => ({
    luma: requireNative(from[0], 'luma'),
    strideBytes: requireNative(layout.planes[0], 'luma').strideBytes,
    widthPx: recipe.size.widthPx,
    heightPx: recipe.size.heightPx,
  });
  const out: { n: number; ssim: number }[] = [];
  const frame = new Frame();
  frame.alloc();
  let at = 0;
  const drain = (): void => {
    for (;;) {
      const code = decoder.receiveFrameSync(frame);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'decoding');
      const source = frames[at++];
      // Every fifth is enough for a mean, and keeps the measuring short.
      if (source && at % 5 === 0) {
        readNativeFrame(source, given, layout);
        readNativeFrame(frame, found, layout);
        out.push({ n: at - 1, ssim: ssimOfLuma(luma(given), luma(found)) });
      }
      frame.unref();
    }
  };
  for (const packet of packets) {
    FFmpegError.throwIfError(decoder.sendPacketSync(packet), 'decoding');
    drain();
  }
  decoder.sendPacketSync(null);
  drain();
  frame.free();
  decoder.freeContext();
  return out;
}
