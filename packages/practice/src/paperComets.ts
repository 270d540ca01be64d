import type { PracticeGame } from '@mellow/model';
import { drawText } from './glyphs';
import { drawLayer, drawScrolled, renderLayer, type Layer } from './layer';
import { passageAt, slotTimeUs } from './passages';
import { colourOf, createPicture, fillRect, mixColours, type Colour, type Picture420 } from './picture420';
import { randomStream } from '@mellow/core';
import { ringSprite, shipSprite } from './sprites';
import { stripHeightPx } from './strip';
import type { Scene } from './scene';
import { drawTestFields } from './testFields';

const ink = colourOf('#2B2440');
const dusk = colourOf('#4A3C63');
const sand = colourOf('#E7B07C');
const peach = colourOf('#D98A5C');
const cream = colourOf('#F6E3C0');
const spark = colourOf('#F2C46B');

/** "Paper Comets": a side-scrolling race of paper gliders past rings and a banded planet. All layers are drawn once. */
export function paperCometsScene(game: PracticeGame): Scene {
  const { widthPx: w, heightPx: h } = game;
  const even = (n: number) => Math.round(n / 2) * 2;
  const random = randomStream(game.seed);
  const sky = skyPicture(game, random);
  // Each layer is drawn down to where the one before it hides it for certain, and no further.
  const far = ridge(game, random, even(h * 0.3), even(h * 0.34), 0.55, colourOf('#3F3560'), 5);
  const middle = ridge(game, random, even(h * 0.24), even(h * 0.29), 0.6, colourOf('#5B4673'), 8);
  const near = ridge(game, random, even(h * 0.17), even(h * 0.19), 0.5, colourOf('#7A5270'), 13);
  const skyPx = even(h * 0.79) * w;
  const ringBack = ringSprite(even(h * 0.07), even(h * 0.24), false);
  const ringFront = ringSprite(even(h * 0.07), even(h * 0.24), true);
  const hero = shipSprite(even(h * 0.2), even(h * 0.09), colourOf('#F4EBDD'), colourOf('#C97B5A'));
  const rivals = ['#8FB7A0', '#7FB3C8', '#D6A3B5', '#C9B062'].map((hex) =>
    shipSprite(even(h * 0.12), even(h * 0.055), colourOf(hex), dusk),
  );
  const planetY = even(h * 0.06);
  const top = game.strip ? stripHeightPx(w) : 0;
  return {
    draw(target, slot) {
      const timeUs = slotTimeUs(game, slot);
      const passage = passageAt(game, timeUs);
      const pace = passage.kind === 'busy' ? 1.8 : passage.kind === 'loading' ? 0.3 : 1;
      // Distance is a pure function of time; a passage only changes what is seen, so it needs no history.
      const distance = (timeUs / 1e6) * w * 0.9 * game.motion;
      const shake = passage.kind === 'busy' ? even(Math.sin(timeUs / 23_000) * h * 0.006 * game.motion) : 0;
      target.y.set(sky.y.subarray(0, skyPx));
      target.u.set(sky.u.subarray(0, skyPx / 4));
      target.v.set(sky.v.subarray(0, skyPx / 4));
      drawScrolled(target, far, distance * 0.15, even(h * 0.54) + shake);
      drawScrolled(target, middle, distance * 0.35, even(h * 0.68) + shake);
      const heroX = even(w * 0.42 + Math.sin(timeUs / 900_000) * w * 0.05);
      const heroY = even(h * 0.4 + Math.sin(timeUs / 530_000) * h * 0.1) + shake;
      drawRings(target, ringBack, distance, w, h, planetY);
      drawRivals(target, rivals, timeUs, w, h, passage.kind === 'busy' ? 9 : 4);
      drawLayer(target, hero, heroX, heroY);
      drawRings(target, ringFront, distance, w, h, planetY);
      drawScrolled(target, near, distance, even(h * 0.83) + shake);
      drawParticles(target, game, slot, heroX, heroY + even(h * 0.045), passage.kind === 'busy' ? 260 : 70, pace);
      drawScore(target, timeUs, slot, top);
      drawTestFields(target, game, slot, timeUs);
    },
  };
}

function skyPicture(game: PracticeGame, random: () => number): Picture420 {
  const { widthPx: w, heightPx: h } = game;
  const picture = createPicture(w, h);
  for (let y = 0; y < h; y += 2) fillRect(picture, 0, y, w, 2, mixColours(ink, dusk, (y / h) ** 1.4));
  for (let i = 0; i < 140 + 900 * game.detail; i++) {
    const x = Math.floor(random() * w);
    const y = Math.floor(random() * h * 0.7);
    picture.y[y * w + x] = 90 + Math.floor(random() * 130);
  }
  const radius = h * 0.27;
  const [cx, cy] = [w * 0.74, h * 0.3];
  for (let y = Math.floor(cy - radius); y < cy + radius; y += 2) {
    const half = Math.sqrt(Math.max(0, radius ** 2 - (y - cy) ** 2));
    const band = Math.sin((y - cy) / (h * 0.035)) * 0.5 + 0.5;
    const x0 = Math.round((cx - half) / 2) * 2;
    fillRect(
      picture,
      x0,
      Math.max(0, y & ~1),
      Math.round(half) * 2,
      2,
      mixColours(sand, peach, 0.25 + 0.6 * band * ((y - cy) / radius / 2 + 0.5)),
    );
  }
  return picture;
}

/** A mountain ridge that repeats sideways, with grain by the detail asked for. */
function ridge(
  game: PracticeGame,
  random: () => number,
  heightPx: number,
  drawnPx: number,
  roughness: number,
  base: Colour,
  peaks: number,
): Layer {
  const width = game.widthPx * 2;
  const waves = Array.from({ length: 6 }, (_, i) => ({
    times: Math.max(1, Math.round(peaks * (i + 1) * 0.7)),
    phase: random() * Math.PI * 2,
    size: roughness / (i + 1) ** 1.2,
  }));
  const grain = Uint8Array.from({ length: 4096 }, () => Math.floor(random() * 256));
  const reach = 26 * game.detail;
  const profile = Float32Array.from({ length: width }, (_, x) => {
    const sum = waves.reduce(
      (s, wave) => s + wave.size * Math.sin((x / width) * Math.PI * 2 * wave.times + wave.phase),
      0,
    );
    return heightPx * (0.45 - 0.24 * sum);
  });
  return renderLayer(width, drawnPx, (x, y) => {
    const ridgeY = profile[x] ?? 0;
    if (y < ridgeY) return null;
    const depth = Math.min(1, (y - ridgeY) / heightPx);
    const noise = ((grain[(x * 7 + y * 131) & 4095] ?? 128) / 255 - 0.5) * reach;
    const fold = ((x * 3 + Math.floor(ridgeY) * 5) % 96 < 48 ? 4 : -4) * (1 - depth);
    return { y: Math.max(18, Math.min(230, base.y + noise + fold - depth * 14)), u: base.u, v: base.v };
  });
}

function drawRings(target: Picture420, ring: Layer, distance: number, w: number, h: number, planetY: number): void {
  const spacing = w * 0.62;
  const first = Math.floor(distance / spacing);
  for (let i = first; i < first + 3; i++) {
    const x = Math.round((i * spacing - distance + w * 0.1) / 2) * 2;
    const y = Math.round((h * 0.3 + planetY * Math.sin(i * 2.4) * 2) / 2) * 2;
    drawLayer(target, ring, x, y);
  }
}

function drawRivals(
  target: Picture420,
  rivals: readonly Layer[],
  timeUs: number,
  w: number,
  h: number,
  count: number,
): void {
  for (let i = 0; i < count; i++) {
    const ship = rivals[i % rivals.length];
    if (!ship) continue;
    const drift = ((timeUs / 1e6) * (0.05 + 0.021 * i) + i * 0.37) % 1.4;
    const x = Math.round(((drift - 0.2) * w) / 2) * 2;
    const y = Math.round((h * (0.18 + 0.075 * ((i * 5) % 8)) + Math.sin(timeUs / 400_000 + i) * h * 0.03) / 2) * 2;
    drawLayer(target, ship, x, y);
  }
}

function drawParticles(
  target: Picture420,
  game: PracticeGame,
  slot: number,
  x: number,
  y: number,
  count: number,
  pace: number,
): void {
  const timeUs = slotTimeUs(game, slot);
  const dot = Math.max(2, Math.round(game.heightPx / 360 / 2) * 2);
  for (let i = 0; i < count; i++) {
    const life = ((timeUs / 1e6) * (0.9 + (i % 7) * 0.13) * pace + i * 0.618) % 1;
    const spread = Math.sin(i * 12.9898 + Math.floor((timeUs / 1e6) * pace + i * 0.618)) * game.heightPx * 0.1;
    const px = Math.round((x - life * game.widthPx * 0.38) / 2) * 2;
    const py = Math.round((y + spread * life) / 2) * 2;
    if (px >= 0) fillRect(target, px, py, dot, dot, mixColours(spark, dusk, life));
  }
}

/** Lap time, place and speed with small text, by which legibility can be judged. */
function drawScore(target: Picture420, timeUs: number, slot: number, top: number): void {
  const dot = Math.max(1, Math.round(target.heightPx / 360));
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  const seconds = timeUs / 1e6;
  const x = Math.round(target.widthPx * 0.03);
  const y = top + Math.round(target.heightPx * 0.04);
  drawText(
    target,
    `LAP ${1 + Math.floor(seconds / 24)} ${two(seconds / 60)}:${two(seconds % 60)}.${two((seconds * 100) % 100)}`,
    x,
    y,
    dot * 2,
    cream,
  );
  drawText(target, `SPEED ${300 + Math.round(120 * Math.sin(seconds * 1.3))}`, x, y + dot * 20, dot, cream);
  drawText(
    target,
    `GATE ${1 + Math.floor(seconds * 1.45)} POS ${1 + (Math.floor(seconds / 3) % 5)}`,
    x,
    y + dot * 31,
    dot,
    cream,
  );
  drawText(target, `SCORE ${1000 + slot}`, target.widthPx - x - dot * 66, y, dot, cream);
}
