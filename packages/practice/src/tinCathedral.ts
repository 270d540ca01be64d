import type { PracticeGame } from '@mellow/model';
import { walkerAt } from './cathedralMap';
import { createPainter } from './cathedralPainter';
import { cathedralTextures } from './cathedralTextures';
import { castColumns, type View } from './cathedralView';
import { drawText } from './glyphs';
import { passageAt, slotTimeUs, type PassageKind } from './passages';
import { colourOf, fillRect, type Picture420 } from './picture420';
import type { Scene } from './scene';
import { stripHeightPx } from './strip';
import { drawTestFields } from './testFields';

const brass = colourOf('#E2C185');
const black = colourOf('#15130F');

/**
 * "Tin Cathedral": first person through corridors and a nave of tin plates, dark and dense, with quick turns. Rays across a
 * plan, textured floor and ceiling, light by lamps, fog by distance, film grain over all.
 */
export function tinCathedralScene(game: PracticeGame): Scene {
  const textures = cathedralTextures(game.seed, game.detail);
  const painter = createPainter(game, textures);
  const top = game.strip ? stripHeightPx(game.widthPx) : 0;
  return {
    draw(target, slot) {
      const timeUs = slotTimeUs(game, slot);
      const { kind, intoUs } = passageAt(game, timeUs);
      if (kind === 'loading') drawLoading(target, intoUs);
      else {
        const view = viewAt(game, timeUs, kind);
        castColumns(painter.columns, textures.light, game.widthPx, game.heightPx, view);
        painter.paint(target, view, slot);
        drawHeading(target, timeUs, top);
      }
      drawTestFields(target, game, slot, timeUs);
    },
  };
}

/** Time runs on the same whatever the passage, so that a picture needs no history; a busy one looks about and flickers. */
function viewAt(game: PracticeGame, timeUs: number, kind: PassageKind): View {
  const walker = walkerAt((timeUs / 1e6) * (0.15 + 1.5 * game.motion) + (game.seed % 97));
  const looks =
    kind === 'busy'
      ? 0.5 * Math.sin(timeUs / 210_000) + 0.2 * Math.sin(timeUs / 83_000)
      : 0.05 * Math.sin(timeUs / 700_000);
  const bob = walker.walking * Math.sin(timeUs / 95_000) * game.heightPx * 0.008 * Math.min(1, game.motion * 2);
  return {
    x: walker.x,
    y: walker.y,
    angle: walker.angle + looks * Math.min(1, game.motion * 1.6),
    horizon: Math.round(game.heightPx * 0.5 + bob),
    darker: kind === 'busy' && Math.floor(timeUs / 130_000) % 3 === 0 ? 9 : 0,
  };
}

/** Oil, hall and a bearing with small text, by which legibility can be judged. */
function drawHeading(target: Picture420, timeUs: number, top: number): void {
  const dot = Math.max(1, Math.round(target.heightPx / 540));
  const x = Math.round(target.widthPx * 0.025);
  const y = target.heightPx - top - Math.round(target.heightPx * 0.05);
  const seconds = timeUs / 1e6;
  drawText(target, `OIL ${99 - (Math.floor(seconds) % 90)}%  KEYS ${Math.floor(seconds / 20) % 7}/7`, x, y, dot, brass);
  drawText(
    target,
    `HALL ${1 + (Math.floor(seconds / 7) % 12)}  BEARING ${Math.floor((seconds * 37) % 360)}`,
    x,
    y - dot * 11,
    dot,
    brass,
  );
}

function drawLoading(target: Picture420, intoUs: number): void {
  const { widthPx: w, heightPx: h } = target;
  fillRect(target, 0, 0, w, h, black);
  const dot = Math.max(1, Math.round(h / 270));
  drawText(target, 'THE DOORS ARE OILED', Math.round(w * 0.3), Math.round(h * 0.45), dot, brass);
  const lit = Math.floor(intoUs / 250_000) % 9;
  for (let i = 0; i < 8; i++)
    fillRect(
      target,
      (Math.round(w * 0.3) & ~1) + i * dot * 12,
      Math.round(h * 0.54) & ~1,
      dot * 8,
      Math.max(2, dot * 4),
      i < lit ? brass : { ...brass, y: 60 },
    );
}
