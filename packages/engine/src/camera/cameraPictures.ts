import type { Recipe, TakeOrder } from '@mellow/model';
import { drawStandInCamera, pictureOver } from '@mellow/practice';
import { planesOver, type PixelLayout } from '../native/pixelLayout';
import type { Control } from '../shared/control';
import { nowUs } from '../shared/monotonic';
import { openSlotPool } from '../shared/slotPool';
import type { TakeMemory } from '../shared/takeMemory';
import { createCameraLayer } from './cameraLayer';

/** A camera that brought nothing for so long is away: what it showed last is not shown any more. */
export const cameraAwayUs = 2e6;

/** So often a newer picture can come while one is reached for. */
const tryAgain = 10;

/** Lays the camera's newest picture into pictures of the file. */
export interface CameraPictures {
  draw(n: number, target: readonly Buffer[]): void;
  free(): void;
}

/** @returns null where a recipe has no camera in its picture */
export function openCameraPictures(
  order: TakeOrder,
  memory: TakeMemory,
  control: Control,
  target: PixelLayout,
): CameraPictures | null {
  const pool = memory.cameraPool;
  const layer = pool && createCameraLayer(order.recipe, pool.layout, target);
  if (!pool || !layer) return null;
  const newest = order.clock === 'real' ? fromThread() : drawn(order.recipe);
  return {
    draw(n, into) {
      if (newest(n)) layer.draw(into);
    },
    free: layer.free,
  };

  /** @returns whether there is one to be shown */
  function fromThread(): () => boolean {
    const slots = openSlotPool(pool!);
    // The picture that is shown stays held, so that nobody writes into it, until there is a newer one.
    let held = -1;
    return () => {
      for (let tries = 0; tries < tryAgain; tries++) {
        const slot = control.get('latestCamera') - 1;
        if (slot < 0 || slot === held) break;
        // The camera may have a newer one in between.
        if (!slots.hold(slot)) continue;
        if (held >= 0) slots.release(held);
        held = slot;
        layer!.take(slots.planes(slot));
        break;
      }
      return held >= 0 && nowUs() - slots.presentUs(held) < cameraAwayUs;
    };
  }

  /** Without a clock the figure is drawn where it is needed, as it stands at that due. */
  function drawn({ rate, camera }: Recipe): (n: number) => boolean {
    const source = pool!.layout;
    const data = new SharedArrayBuffer(source.bytes);
    const picture = pictureOver(data, 0, source.widthPx, source.heightPx);
    const planes = planesOver(data, 0, source);
    const fps = camera?.fps ?? 30;
    let shown = -1;
    return (n) => {
      const k = Math.floor((n * rate.den * fps) / rate.num);
      if (k !== shown) {
        drawStandInCamera(picture, k, fps);
        layer!.take(planes);
        shown = k;
      }
      return true;
    };
  }
}
