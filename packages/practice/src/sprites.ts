import { renderLayer, type Layer } from './layer';
import { colourOf, mixColours, type Colour } from './picture420';

const rim = colourOf('#F3E2C4');
const rimShade = colourOf('#C9A98A');

/** One half of an upright ring seen from the side: the far or the near rim, so that gliders pass through. */
export function ringSprite(widthPx: number, heightPx: number, near: boolean): Layer {
  const [rx, ry] = [widthPx / 2, heightPx / 2];
  const thick = Math.max(3, heightPx * 0.035);
  return renderLayer(widthPx, heightPx, (x, y) => {
    const dx = (x - rx + 0.5) / rx;
    const dy = (y - ry + 0.5) / ry;
    const outer = Math.hypot(dx, dy);
    const inner = Math.hypot((x - rx + 0.5) / (rx - thick), (y - ry + 0.5) / (ry - thick));
    if (outer > 1 || inner < 1 || (near ? dx < 0 : dx >= 0)) return null;
    return near ? rim : mixColours(rim, rimShade, 0.8);
  });
}

/** A folded paper glider pointing right. */
export function shipSprite(widthPx: number, heightPx: number, wing: Colour, keel: Colour): Layer {
  return renderLayer(widthPx, heightPx, (x, y) => {
    const along = x / widthPx;
    const across = y / heightPx;
    const upper = 0.1 + 0.36 * along;
    const fold = 0.34 + 0.14 * along;
    const lower = 0.9 - 0.38 * along;
    if (across < upper || across > lower || along < 0.06 * across) return null;
    if (across < fold) return wing;
    const shade = mixColours(wing, keel, 0.35);
    return across < (fold + lower) / 2 ? shade : along < 0.45 ? keel : mixColours(wing, keel, 0.7);
  });
}
