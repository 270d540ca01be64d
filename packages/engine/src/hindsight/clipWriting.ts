import { closeSync, fsyncSync, openSync } from 'node:fs';
import { dirname } from 'node:path';
import { AVERROR_EIO } from 'node-av/constants';
import { FFmpegError, Packet } from 'node-av/lib';
import { dueUs, sampleRateHz } from '@mellow/core';
import type { FileIdentity, Recipe } from '@mellow/model';
import { syncFolder, writeFully } from '../files/durable';
import { isSameOpenFile } from '../files/identity';
import { opening, type Owns } from '../shared/disposer';
import { openFileWriter } from '../container/fileWriter';
import { openLaneEncoder } from '../sound/laneEncoder';
import { pictureTrack, type HeldClip, type HeldPacket } from './history';

export interface ClipFacts {
  startUs: number;
  lengthUs: number;
  pictures: number;
  bytes: number;
}

/** A clip on its way into its file, in steps, so that whoever writes it can do other things in between. */
export interface ClipWriting {
  /** Writes some packets. @returns what was written once it is whole and on the drive; null before. @throws in words */
  step(packets: number): ClipFacts | null;
  /** Ends it early, or after it has failed; what was written stays. */
  free(): void;
}

/**
 * Writes a part of what is held into a reserved file: picture and lanes keep their distance, and both begin at 0. A lane
 * begins with its first whole packet, which may be a tenth of a second into the clip. The clip is done with when it is freed.
 * @throws in words; the clip is done with then
 */
export function openClipWriting(
  recipe: Recipe,
  clip: HeldClip,
  target: { path: string; identity: FileIdentity },
): ClipWriting {
  return opening((owns, dispose) => openOwned(recipe, clip, target, owns, dispose));
}

function openOwned(
  recipe: Recipe,
  clip: HeldClip,
  target: { path: string; identity: FileIdentity },
  owns: Owns,
  free: () => void,
): ClipWriting {
  owns(clip, ({ done }) => done());
  const handle = owns(openSync(target.path, 'r+'), closeSync);
  if (!isSameOpenFile(target.identity, handle))
    throw new Error(`Another file lies at ${target.path} by now; it was not touched.`);
  const { span } = clip;
  const lanes = recipe.lanes.map((lane) => ({
    lane,
    encoder: owns(openLaneEncoder(lane, recipe.container), (one) => one.free()),
  }));
  let refused: Error | null = null;
  let bytes = 0;
  const opened = openFileWriter(recipe, clip.header, lanes, {
    // An exception must not go through the library.
    write(position, piece) {
      try {
        writeFully(handle, piece, position);
        bytes = Math.max(bytes, position + piece.byteLength);
        return 0;
      } catch (error) {
        refused ??= error instanceof Error ? error : new Error(String(error));
        return AVERROR_EIO;
      }
    },
  });
  const writer = owns(opened, (one) => one.free());
  const packet = owns(new Packet(), (one) => one.free());
  packet.alloc();
  const startSample = Math.round((dueUs(recipe.rate, span.startPts) * sampleRateHz) / 1e6);
  const endSample = Math.round((dueUs(recipe.rate, span.endPts) * sampleRateHz) / 1e6);
  const from = clip.packets[Symbol.iterator]();
  let coded = 0;
  let pictures = 0;

  /** Pictures of the span by their place in decoding order; those shown before the first cannot be shown without what is gone. */
  function belongs({ track, pts }: HeldPacket): boolean {
    if (track !== pictureTrack) return pts >= startSample && pts < endSample;
    const at = coded++;
    return at >= span.first && at < span.end && pts >= span.startPts;
  }

  function write(held: HeldPacket, data: Uint8Array): void {
    if (!belongs(held)) return;
    const isPicture = held.track === pictureTrack;
    const offset = isPicture ? span.startPts : startSample;
    packet.unref();
    packet.data = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
    packet.pts = BigInt(held.pts - offset);
    packet.dts = BigInt(held.dts - offset);
    packet.duration = BigInt(held.duration);
    packet.isKeyframe = held.key;
    if (isPicture) pictures++;
    check(isPicture ? writer.writePicture(packet) : writer.writeSound(held.track, packet));
  }

  function check(code: number): void {
    if (refused) throw refused;
    FFmpegError.throwIfError(code, 'writing what is kept');
  }

  return {
    step(count) {
      for (let i = 0; i < count; i++) {
        const next = from.next();
        if (!next.done) {
          write(next.value.packet, next.value.data);
          continue;
        }
        check(writer.close());
        fsyncSync(handle);
        free();
        syncFolder(dirname(target.path));
        return {
          startUs: dueUs(recipe.rate, span.startPts),
          lengthUs: dueUs(recipe.rate, span.endPts - span.startPts),
          pictures,
          bytes,
        };
      }
      return null;
    },
    free,
  };
}
