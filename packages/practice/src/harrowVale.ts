import type { PracticeGame } from '@mellow/model';
import { drawText } from './glyphs';
import { passageAt, slotTimeUs } from './passages';
import { colourOf, fillRect, type Picture420 } from './picture420';
import type { Scene } from './scene';
import { stripHeightPx } from './strip';
import { drawTestFields } from './testFields';
import { valeWorld, type ValeWorld } from './valeWorld';

/** One round of play: the view wanders, a ledger of the farm is read while all stands still, the view wanders on. */
const roundUs = 14_000_000;
const ledgerFromUs = 6_000_000;
const ledgerToUs = 10_000_000;

const paper = colourOf('#EFE3C8');
const paperLine = colourOf('#B79F74');
const inkOnPaper = colourOf('#4B3A28');
const cream = colourOf('#F7EED8');
const shade = colourOf('#2A251F');
const wool = colourOf('#EFEADD');
const dusk = colourOf('#20232C');

type Light = keyof ValeWorld;

/** "Harrow Vale": farmland from above; slow, with still passages, small text, thin lines, and rain and nightfall at once. */
export function harrowValeScene(game: PracticeGame): Scene {
  const world = valeWorld(game);
  const top = game.strip ? stripHeightPx(game.widthPx) : 0;
  return {
    draw(target, slot) {
      const timeUs = slotTimeUs(game, slot);
      const { kind, intoUs } = passageAt(game, timeUs);
      if (kind === 'loading') drawLoading(target, intoUs);
      else {
        const light = lightAt(kind, intoUs);
        const [x, y] = viewAt(game, world.day, timeUs);
        copyView(target, world[light], x, y);
        drawFlock(target, game, timeUs, x, y, light);
        drawMill(target, game, timeUs, x, y, light);
        if (kind === 'busy' && intoUs < 2_000_000) drawRain(target, game, timeUs);
        drawHeading(target, timeUs, top, light);
        if (readsLedger(timeUs)) drawLedger(target, timeUs);
      }
      drawTestFields(target, game, slot, timeUs);
    },
  };
}

/** In a busy passage rain comes down for two seconds, with lightning, and then night falls at once. */
function lightAt(kind: 'calm' | 'busy', intoUs: number): Light {
  if (kind === 'calm') return 'day';
  if (intoUs >= 2_000_000) return 'night';
  return intoUs % 900_000 > 700_000 && intoUs % 900_000 < 760_000 ? 'day' : 'rain';
}

function readsLedger(timeUs: number): boolean {
  return timeUs % roundUs >= ledgerFromUs && timeUs % roundUs < ledgerToUs;
}

/** Where the view stands in the land: it wanders slowly in a figure of eight and stops while the ledger is read. */
function viewAt(game: PracticeGame, land: Picture420, timeUs: number): [number, number] {
  const perRound = roundUs - (ledgerToUs - ledgerFromUs);
  const into = timeUs % roundUs;
  const walkedUs =
    Math.floor(timeUs / roundUs) * perRound + Math.min(into, ledgerFromUs) + Math.max(0, into - ledgerToUs);
  const turn = (walkedUs / 1e6) * 0.7 * game.motion + game.seed;
  const at = (room: number, turned: number): number => (Math.round((room / 2) * (1 + Math.sin(turned))) >> 1) << 1;
  return [at(land.widthPx - game.widthPx, turn), at(land.heightPx - game.heightPx, turn * 1.37)];
}

function copyView(target: Picture420, land: Picture420, x0: number, y0: number): void {
  const { widthPx: w, heightPx: h } = target;
  for (let y = 0; y < h; y++) {
    const from = (y0 + y) * land.widthPx + x0;
    target.y.set(land.y.subarray(from, from + w), y * w);
  }
  const half = w >> 1;
  for (let y = 0; y < h >> 1; y++) {
    const from = ((y0 >> 1) + y) * (land.widthPx >> 1) + (x0 >> 1);
    target.u.set(land.u.subarray(from, from + half), y * half);
    target.v.set(land.v.subarray(from, from + half), y * half);
  }
}

/** Sheep that graze: each wanders round a place of its own in the land. */
function drawFlock(
  target: Picture420,
  game: PracticeGame,
  timeUs: number,
  viewX: number,
  viewY: number,
  light: Light,
): void {
  const scale = game.heightPx / 1080;
  const size = Math.max(2, Math.round(5 * scale) * 2);
  const body = light === 'night' ? { ...wool, y: 92 } : light === 'rain' ? { ...wool, y: 150 } : wool;
  for (let i = 0; i < 46; i++) {
    const homeX = game.widthPx * (0.25 + 0.95 * ((i * 0.618) % 1));
    const homeY = game.heightPx * (0.2 + 0.9 * ((i * 0.414) % 1));
    const turn = (timeUs / 1e6) * (0.12 + 0.02 * (i % 5)) * (0.3 + game.motion) + i;
    const x = Math.round(homeX + 60 * scale * Math.sin(turn) - viewX) & ~1;
    const y = Math.round(homeY + 34 * scale * Math.cos(turn * 1.3) - viewY) & ~1;
    fillRect(target, x, y, size, Math.max(2, (size * 0.6) & ~1), body);
    fillRect(target, x + size, y, Math.max(2, (size >> 1) & ~1), Math.max(2, (size >> 1) & ~1), shade);
  }
}

/** Sails of the mills turn: thin lines at every angle. */
function drawMill(
  target: Picture420,
  game: PracticeGame,
  timeUs: number,
  viewX: number,
  viewY: number,
  light: Light,
): void {
  const scale = game.heightPx / 1080;
  const sail = light === 'night' ? 110 : light === 'rain' ? 170 : 225;
  const turned = (timeUs / 1e6) * (0.4 + 1.6 * game.motion);
  for (const [fx, fy] of [
    [0.42, 0.36],
    [1.02, 0.82],
    [0.8, 0.24],
  ] as const) {
    const cx = game.widthPx * fx - viewX;
    const cy = game.heightPx * fy - viewY;
    fillRect(
      target,
      (cx - 9 * scale) & ~1,
      cy & ~1,
      Math.max(2, (18 * scale) & ~1),
      Math.max(2, (30 * scale) & ~1),
      shade,
    );
    for (let arm = 0; arm < 4; arm++) {
      const angle = turned + (arm * Math.PI) / 2;
      for (let r = 0; r < 58 * scale; r++)
        for (const side of [0, 6 * scale]) {
          const x = Math.round(cx + r * Math.cos(angle) - side * Math.sin(angle));
          const y = Math.round(cy + r * Math.sin(angle) + side * Math.cos(angle));
          if (x >= 0 && y >= 0 && x < target.widthPx && y < target.heightPx) target.y[y * target.widthPx + x] = sail;
        }
    }
  }
}

/** Slanted drops, another set of places in each frame. */
function drawRain(target: Picture420, game: PracticeGame, timeUs: number): void {
  const { widthPx: w, heightPx: h } = target;
  const drops = Math.round(400 + 1400 * game.detail);
  const length = Math.max(4, Math.round(h / 60));
  for (let i = 0; i < drops; i++) {
    const speed = 1.1 + (i % 7) * 0.12;
    const fallen = ((timeUs / 1e6) * speed + i * 0.6180339) % 1;
    const x0 = Math.floor(((i * 0.7548777) % 1) * w + fallen * h * 0.16);
    const y0 = Math.floor(fallen * h);
    for (let n = 0; n < length; n++) {
      const y = y0 + n;
      const x = x0 + (n >> 3);
      if (x < w && y < h) target.y[y * w + x] = Math.min(235, (target.y[y * w + x] ?? 16) + 52);
    }
  }
}

/** Date, purse and weather with small text, by which legibility can be judged. */
function drawHeading(target: Picture420, timeUs: number, top: number, light: Light): void {
  const dot = Math.max(1, Math.round(target.heightPx / 540));
  const x = Math.round(target.widthPx * 0.02);
  const y = top + Math.round(target.heightPx * 0.025);
  const day = 1 + Math.floor(timeUs / 6e6);
  drawText(target, `DAY ${day} ${light === 'night' ? 'NIGHT' : light === 'rain' ? 'RAIN' : 'FAIR'}`, x, y, dot, cream);
  drawText(target, `COIN ${1200 + Math.floor(timeUs / 2e6)}  WOOL 46  BARLEY 310`, x, y + dot * 11, dot, cream);
}

const goods = ['BARLEY', 'WOOL', 'OATS', 'APPLES', 'HONEY', 'FLAX', 'EGGS', 'TIMBER', 'CHEESE', 'SALT', 'HOPS', 'SEED'];

/** A ledger with thin ruled lines and small figures; nothing in it moves but the seconds. */
function drawLedger(target: Picture420, timeUs: number): void {
  const { widthPx: w, heightPx: h } = target;
  const even = (n: number): number => Math.round(n / 2) * 2;
  const [x, y, wide, high] = [even(w * 0.27), even(h * 0.19), even(w * 0.46), even(h * 0.62)];
  fillRect(target, x + even(h * 0.01), y + even(h * 0.01), wide, high, shade);
  fillRect(target, x, y, wide, high, paper);
  const dot = Math.max(1, Math.round(h / 540));
  const row = Math.floor((high - 24 * dot) / (goods.length + 1));
  drawText(
    target,
    `LEDGER OF THE VALE   ${String(Math.floor(timeUs / 1e6)).padStart(4, '0')}`,
    x + 10 * dot,
    y + 8 * dot,
    dot,
    inkOnPaper,
  );
  for (const column of [0.34, 0.52, 0.7, 0.86])
    lineDown(target, x + Math.round(wide * column), y + 20 * dot, high - 24 * dot);
  goods.forEach((name, i) => {
    const at = y + 22 * dot + row * i;
    target.y.fill(paperLine.y, at * w + x + 6 * dot, at * w + x + wide - 6 * dot);
    const textY = at + Math.floor((row - 7 * dot) / 2);
    drawText(target, name, x + 12 * dot, textY, dot, inkOnPaper);
    [
      [0.36, `${120 + ((i * 73) % 400)}`],
      [0.54, `${2 + ((i * 7) % 9)}.${(i * 37) % 10}${(i * 11) % 10}`],
      [0.72, `+${(i * 5) % 13}%`],
      [0.88, `${(i * 29) % 90}`],
    ].forEach(([share, text]) =>
      drawText(target, String(text), x + Math.round(wide * Number(share)), textY, dot, inkOnPaper),
    );
  });
}

function lineDown(target: Picture420, x: number, y: number, lengthPx: number): void {
  for (let n = 0; n < lengthPx; n++) target.y[(y + n) * target.widthPx + x] = paperLine.y;
}

function drawLoading(target: Picture420, intoUs: number): void {
  const { widthPx: w, heightPx: h } = target;
  fillRect(target, 0, 0, w, h, dusk);
  const dot = Math.max(1, Math.round(h / 270));
  drawText(target, 'THE SEASON TURNS', Math.round(w * 0.3), Math.round(h * 0.45), dot, cream);
  const bar = Math.round((w * 0.4 * Math.min(1, intoUs / 2e6)) / 2) * 2;
  fillRect(target, Math.round((w * 0.3) / 2) * 2, Math.round((h * 0.54) / 2) * 2, bar, Math.max(2, dot * 2), paperLine);
}
