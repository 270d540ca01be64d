import { AVERROR_EAGAIN, AVERROR_EOF } from 'node-av/constants';
import { FFmpegError, Packet, type Frame } from 'node-av/lib';
import type { PictureEncoder } from './pictureEncoder';
import type { ReadProgress } from '../reading/readBack';

/** Processor time and time on the clock a frame. @throws when not every frame comes back */
export function timeFrames(
  encoder: PictureEncoder,
  pictures: readonly Frame[],
  frames: number,
  progress: ReadProgress,
): { processorUs: number; clockUs: number } {
  const packet = new Packet();
  packet.alloc();
  let packets = 0;
  const drain = (): void => {
    for (;;) {
      const code = encoder.receive(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding');
      packets++;
      packet.unref();
    }
  };
  const before = process.cpuUsage();
  const atMs = performance.now();
  for (let n = 0; n < frames; n++) {
    const frame = pictures[n % pictures.length];
    if (!frame) continue;
    frame.pts = BigInt(n);
    FFmpegError.throwIfError(encoder.send(frame), 'encoding');
    drain();
    progress(n, frames);
  }
  FFmpegError.throwIfError(encoder.send(null), 'closing the encoder');
  drain();
  const used = process.cpuUsage(before);
  packet.free();
  if (packets < frames) throw new Error(`only ${packets} of ${frames} test frames came back`);
  return {
    processorUs: (used.user + used.system) / frames,
    clockUs: ((performance.now() - atMs) * 1000) / frames,
  };
}
