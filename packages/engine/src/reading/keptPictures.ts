import { closeSync, existsSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { framesPerSecond, keptPicture, picturesToKeep, type LumaPlane } from '@mellow/core';
import type { TakeOrder } from '@mellow/model';
import type { PixelLayout } from '../native/pixelLayout';
import { principalPlane } from '../native/principalPlane';

/** Keeps what the encoder was given for a few dozen frames of a take, to hold the file's pictures against it afterwards. */
export interface PictureKeeper {
  /** Looks at an accepted frame. @param planes its samples, still unchanged */
  see(n: number, planes: readonly Uint8Array[]): void;
  /** Writes what was kept; nothing where nothing was. @throws where the drive does not take it, with nothing left behind */
  writeTo(path: string): void;
}

const goldenRatio = (Math.sqrt(5) - 1) / 2;
/** Four bytes with the frame's number, then its samples. */
const headBytes = 4;

/** In memory while the take rolls: nothing is compressed or written that would disturb it. */
export function createPictureKeeper(order: TakeOrder, layout: PixelLayout): PictureKeeper {
  const { widthPx, heightPx, name } = layout;
  const count = order.keepPictures ? picturesToKeep(order.dueFrames, order.recipe.rate, widthPx * heightPx) : 0;
  let kept: { n: number; samples: Uint8Array }[] = [];
  const wants = order.openEnd ? thinning() : evenly();

  /** Over a length that is known. */
  function evenly(): (n: number) => boolean {
    let next = 0;
    return (n) => {
      if (next >= count || n < keptPicture(next, count, order.dueFrames)) return false;
      // Frames that were lost before are not waited for; the next stretch has its own.
      while (next < count && n >= keptPicture(next, count, order.dueFrames)) next++;
      return true;
    };
  }

  /**
   * Nobody knows how long it gets: about one a second, and whenever there are too many every second of them goes. The distance
   * walks by the golden ratio, so that key pictures and others are met as often as they come.
   */
  function thinning(): (n: number) => boolean {
    let everyFrames = Math.ceil(framesPerSecond(order.recipe.rate));
    let next = everyFrames;
    let asked = 0;
    return (n) => {
      if (count < 2 || n < next) return false;
      if (kept.length >= count) {
        kept = kept.filter((_, i) => i % 2 === 0);
        everyFrames *= 2;
      }
      next = n + Math.ceil(everyFrames * (0.5 + ((++asked * goldenRatio) % 1)));
      return true;
    };
  }

  return {
    see(n, planes) {
      if (!wants(n)) return;
      const [first, stride] = [planes[0], layout.planes[0]?.strideBytes];
      if (first && stride) kept.push({ n, samples: principalPlane(name, first, stride, widthPx, heightPx).luma });
    },
    writeTo(path) {
      if (!kept.length) return;
      const handle = openSync(path, 'w');
      try {
        const head = Buffer.alloc(headBytes);
        for (const { n, samples } of kept) {
          head.writeUInt32LE(n);
          writeFully(handle, head);
          writeFully(handle, samples);
        }
      } catch (error) {
        rmSync(path, { force: true });
        throw error;
      } finally {
        closeSync(handle);
      }
    },
  };
}

function writeFully(handle: number, bytes: Uint8Array): void {
  for (let at = 0; at < bytes.length;) at += writeSync(handle, bytes, at);
}

export interface KeptPicture {
  n: number;
  plane: LumaPlane;
}

/** Kept pictures of a size by their frames' numbers, one after the other in memory. A piece at the end that is not whole is left out. */
export function* readKeptPictures(path: string, widthPx: number, heightPx: number): Generator<KeptPicture> {
  if (!existsSync(path)) return;
  const handle = openSync(path, 'r');
  try {
    for (;;) {
      const record = new Uint8Array(headBytes + widthPx * heightPx);
      if (readSync(handle, record) < record.length) return;
      const n = new DataView(record.buffer).getUint32(0, true);
      yield { n, plane: { luma: record.subarray(headBytes), strideBytes: widthPx, widthPx, heightPx } };
    }
  } finally {
    closeSync(handle);
  }
}
