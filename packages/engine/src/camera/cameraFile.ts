import { closeSync, fdatasyncSync, openSync, writeSync } from 'node:fs';
import { AVERROR_EAGAIN, AVERROR_EIO, AVERROR_EOF } from 'node-av/constants';
import { FFmpegError, Packet } from 'node-av/lib';
import { startRecipe, plainPracticeGame } from '@mellow/core';
import type { Camera, FileIdentity, Recipe } from '@mellow/model';
import { isSameOpenFile } from '../files/identity';
import { nativePixels } from '../native/encoderNames';
import { openFileWriter } from '../container/fileWriter';
import { openPictureEncoder } from '../encode/pictureEncoder';
import { createNativeFrame, fileTags, fillNativeFrame, freshMemory } from '../native/pictureFrames';
import type { PixelLayout } from '../native/pixelLayout';

/** A camera's file is flushed as often as a take's. */
const flushEveryUs = 1e6;

/** A camera's file of its own: time 0 is the take's due 0, its rate the camera's. */
export interface CameraFile {
  /** Files a picture under the place of its time; one that comes twice is left out. */
  write(planes: readonly Uint8Array[], sinceZeroUs: number): void;
  /** Finishes it. */
  close(): void;
}

/** Crash-safe, light on the processor, and cut as easily as the take: a key picture a second. */
export function cameraRecipe({ widthPx, heightPx, fps }: Camera): Recipe {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'camera');
  return {
    ...start,
    camera: null,
    rate: { num: fps, den: 1 },
    size: { ...start.size, widthPx, heightPx },
    lanes: [],
    container: 'matroska',
    encode: {
      ...start.encode,
      encoder: 'avc-software',
      effort: 'light',
      rateControl: 'constant-quality',
      quality: 20,
      keyDistanceFrames: fps,
      bFrames: 0,
      lowDelay: true,
      threads: 1,
    },
  };
}

/** @param target where it is written; null: it is encoded and thrown away, as in a take that only measures the play cost */
export function openCameraFile(
  camera: Camera,
  layout: PixelLayout,
  target: { path: string; identity: FileIdentity } | null,
): CameraFile {
  const recipe = cameraRecipe(camera);
  const handle = target ? openSync(target.path, 'r+') : null;
  if (target && handle !== null && !isSameOpenFile(target.identity, handle)) {
    closeSync(handle);
    throw new Error(`${target.path} is another file by now.`);
  }
  let refused: Error | null = null;
  const encoder = openPictureEncoder(recipe, 1, true);
  const writer = openFileWriter(recipe, encoder.header, [], {
    // An exception must not go through the library: its code is what it understands, the reason is told afterwards.
    write(position, bytes) {
      if (handle === null) return 0;
      try {
        for (let at = 0; at < bytes.length;) at += writeSync(handle, bytes, at, bytes.length - at, position + at);
        return 0;
      } catch (error) {
        refused ??= error instanceof Error ? error : new Error(String(error));
        return AVERROR_EIO;
      }
    },
  });
  const frame = createNativeFrame(
    camera.widthPx,
    camera.heightPx,
    fileTags(recipe),
    nativePixels(recipe.encode).format,
  );
  const packet = new Packet();
  packet.alloc();
  let last = -1;
  let flushedUs = 0;
  return {
    write(planes, sinceZeroUs) {
      const n = Math.round((sinceZeroUs * camera.fps) / 1e6);
      if (n <= last) return;
      last = n;
      freshMemory(frame);
      fillNativeFrame(frame, planes, layout);
      frame.pts = BigInt(n);
      FFmpegError.throwIfError(encoder.send(frame), 'encoding the camera');
      drain();
      if (handle !== null && sinceZeroUs - flushedUs >= flushEveryUs) {
        fdatasyncSync(handle);
        flushedUs = sinceZeroUs;
      }
    },
    close() {
      try {
        encoder.send(null);
        drain();
        const closed = writer.close();
        if (refused) throw refused;
        FFmpegError.throwIfError(closed, 'closing the camera’s file');
        if (handle !== null) fdatasyncSync(handle);
      } finally {
        writer.free();
        encoder.free();
        packet.free();
        frame.free();
        if (handle !== null) closeSync(handle);
      }
    },
  };

  function drain(): void {
    for (;;) {
      const code = encoder.receive(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding the camera');
      const written = writer.writePicture(packet);
      packet.unref();
      if (refused) throw refused;
      FFmpegError.throwIfError(written, 'writing the camera’s file');
    }
  }
}
