import { encoderFacts, plainPracticeGame, startRecipe, withEncoder } from '@mellow/core';
import type { EncoderProof, MediaJob } from '@mellow/model';
import { createPicture, paperCometsScene } from '@mellow/practice';
import { AVERROR_EAGAIN, AVERROR_EOF } from 'node-av/constants';
import { FFmpegError, Frame, Packet } from 'node-av/lib';
import { nativePixels } from './encoderNames';
import { openPictureEncoder } from './pictureEncoder';
import { createNativeFrame, fillNativeFrame } from './pictureFrames';
import { openPictureFilter } from './pictureFilter';

const drawnPictures = 12;
const [widthPx, heightPx] = [1280, 720];

/**
 * Encodes some frames of the practice game without a clock. A listed encoder proves nothing: only packets do.
 * Processor time is that of this whole process, which does nothing else meanwhile.
 */
export function proveEncoder(job: Extract<MediaJob, { kind: 'prove-encoder' }>): EncoderProof {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
  const base = withEncoder({ ...start, size: { ...start.size, widthPx, heightPx } }, job.encoder);
  const pictures = drawPictures(base.encode.encoder === 'mjpeg-software' ? 'full' : 'limited');
  const proof: EncoderProof = { works: false, reason: null, native: null, widthPx, heightPx, byEffort: {} };
  try {
    const efforts = encoderFacts[job.encoder].efforts.length ? job.efforts : (['lightest'] as const);
    for (const effort of efforts) {
      const recipe = { ...base, encode: { ...base.encode, effort } };
      const { context, native } = openPictureEncoder(recipe, 0, false);
      proof.native = native;
      try {
        const pixels = nativePixels(recipe.encode);
        const converter =
          pixels.name === 'nv12' ? openPictureFilter(widthPx, heightPx, 'limited', 'format=nv12') : null;
        const converted = new Frame();
        converted.alloc();
        const packet = new Packet();
        packet.alloc();
        let packets = 0;
        const drain = (): void => {
          for (;;) {
            const code = context.receivePacketSync(packet);
            if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
            FFmpegError.throwIfError(code, 'encoding');
            packets++;
            packet.unref();
          }
        };
        const before = process.cpuUsage();
        const atMs = performance.now();
        for (let n = 0; n < job.frames; n++) {
          const frame = pictures[n % pictures.length];
          if (!frame) continue;
          let input = frame;
          if (converter) {
            converted.unref();
            converter.run(frame, converted);
            input = converted;
          } else frame.format = pixels.format;
          input.pts = BigInt(n);
          FFmpegError.throwIfError(context.sendFrameSync(input), 'encoding');
          drain();
        }
        FFmpegError.throwIfError(context.sendFrameSync(null), 'closing the encoder');
        drain();
        const used = process.cpuUsage(before);
        packet.free();
        converted.free();
        converter?.free();
        if (packets < job.frames) throw new Error(`only ${packets} of ${job.frames} test frames came back`);
        proof.byEffort[effort] = {
          processorUs: (used.user + used.system) / job.frames,
          clockUs: ((performance.now() - atMs) * 1000) / job.frames,
        };
      } finally {
        context.freeContext();
      }
    }
    proof.works = true;
  } catch (error) {
    proof.reason = error instanceof Error ? error.message : String(error);
  }
  for (const frame of pictures) frame.free();
  return proof;
}

function drawPictures(range: 'limited' | 'full'): Frame[] {
  const game = { ...plainPracticeGame, widthPx, heightPx };
  const scene = paperCometsScene(game);
  const picture = createPicture(widthPx, heightPx);
  return Array.from({ length: drawnPictures }, (_, i) => {
    scene.draw(picture, 240 + i * 2);
    const frame = createNativeFrame(widthPx, heightPx, range);
    fillNativeFrame(frame, picture);
    return frame;
  });
}
