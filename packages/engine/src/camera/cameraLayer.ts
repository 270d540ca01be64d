import { cameraPart } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { pixelLayout, planesOver, type PixelLayout, type PlaneLayout } from '../native/pixelLayout';
import { createSizer } from '../size/sizer';

/** The camera's picture as it lies in the file's. */
export interface CameraLayer {
  /** Scales a picture of the camera to its place; it is drawn until the next is taken. */
  take(planes: readonly Buffer[]): void;
  /** Lays it over or beside the game in a picture as the encoder takes it. */
  draw(target: readonly Buffer[]): void;
  free(): void;
}

const slackBytes = 4096;
const whole = 256;

/** @returns null where a recipe has no camera in its picture */
export function createCameraLayer(recipe: Recipe, source: PixelLayout, target: PixelLayout): CameraLayer | null {
  const part = cameraPart(recipe);
  const { camera } = recipe;
  if (!part || !camera) return null;
  const { widthPx, heightPx, leftPx, topPx } = part;
  const layout = pixelLayout(target.name, widthPx, heightPx, true);
  const planes = planesOver(new SharedArrayBuffer(layout.bytes + slackBytes), 0, layout);
  // Beside the game it fills its half, edges cut off; over it the part has its shape.
  const sizer = createSizer(source, layout, {
    ...recipe,
    camera: null,
    size: { widthPx, heightPx, filter: 'bicubic', fit: camera.where === 'beside' ? 'fill' : 'stretch' },
  });
  const alpha = camera.where === 'over' ? Math.round(camera.opacity * whole) : whole;
  let taken = false;
  return {
    take(from) {
      sizer.run(from, planes);
      taken = true;
    },
    draw(into) {
      if (!taken) return;
      layout.planes.forEach((plane, i) => {
        const [from, to, outer] = [planes[i], into[i], target.planes[i]];
        if (!from || !to || !outer) return;
        const start = startOf(outer, leftPx, topPx);
        for (let row = 0; row < plane.rows; row++) {
          const line = from.subarray(row * plane.strideBytes, row * plane.strideBytes + plane.lineBytes);
          const at = start + row * outer.strideBytes;
          if (alpha === whole) to.set(line, at);
          else mix(to.subarray(at, at + plane.lineBytes), line, alpha, twoBytes(target));
        }
      });
    },
    free: sizer.free,
  };
}

function startOf(plane: PlaneLayout, leftPx: number, topPx: number): number {
  return (topPx / plane.step.y) * plane.strideBytes + (leftPx / plane.step.x) * plane.bytesPerSample;
}

function twoBytes({ name }: PixelLayout): boolean {
  return name === 'yuv420p10le' || name === 'p010le';
}

/** Puts one line over another, which shines through: each sample by itself, whatever it stands for. */
function mix(into: Buffer, line: Buffer, alpha: number, wide: boolean): void {
  if (wide) {
    for (let i = 0; i < line.length; i += 2) {
      const below = into.readUInt16LE(i);
      into.writeUInt16LE(below + (((line.readUInt16LE(i) - below) * alpha) >> 8), i);
    }
    return;
  }
  for (let i = 0; i < line.length; i++) {
    const below = into[i] ?? 0;
    into[i] = below + ((((line[i] ?? 0) - below) * alpha) >> 8);
  }
}
