import { colourOf, fillRect, type Colour, type Picture420 } from './picture420';
import { drawStrip, stripHeightPx } from './strip';

const wall = colourOf('#4a5568');
const shelf = colourOf('#39424f');
const skin = colourOf('#c99a74');
const hair = colourOf('#2c2420');
const shirt = colourOf('#2f6f6a');
const eyes = colourOf('#1b1f27');

/** Pictures that a nod, and a blink, take. */
const nodPictures = 75;
const blinkPictures = 90;

/**
 * Draws the stand-in camera's picture k at so many a second: a figure at a desk that nods and blinks, with a number strip of its
 * own, by which it can be told which of its pictures lies in a file.
 */
export function drawStandInCamera(picture: Picture420, k: number, fps: number): void {
  const { widthPx, heightPx } = picture;
  fillRect(picture, 0, 0, widthPx, heightPx, wall);
  fillRect(picture, 0, Math.round(heightPx * 0.3), widthPx, Math.round(heightPx * 0.04), shelf);
  const nod = Math.sin((k / nodPictures) * 2 * Math.PI);
  const [middle, top] = [widthPx * (0.5 + 0.02 * nod), heightPx * (0.24 + 0.015 * nod)];
  const tall = heightPx * 0.36;
  fillEllipse(picture, widthPx * 0.5, heightPx * 1.02, widthPx * 0.3, heightPx * 0.42, shirt);
  fillEllipse(picture, middle, top + tall * 0.42, tall * 0.42, tall * 0.5, hair);
  fillEllipse(picture, middle, top + tall * 0.55, tall * 0.36, tall * 0.46, skin);
  const open = k % blinkPictures < 5 ? 0.012 : 0.05;
  for (const side of [-1, 1])
    fillEllipse(picture, middle + side * tall * 0.15, top + tall * 0.5, tall * 0.05, tall * open, eyes);
  fillEllipse(picture, middle, top + tall * 0.78, tall * 0.1, tall * (0.02 + 0.02 * Math.abs(nod)), eyes);
  if (heightPx > stripHeightPx(widthPx) * 3) drawStrip(picture, k, (k * 1e6) / fps);
}

/** Fills an ellipse, cut off at the picture's edges, colour planes by every second pixel. */
function fillEllipse(picture: Picture420, x: number, y: number, across: number, down: number, colour: Colour): void {
  const from = Math.max(0, Math.ceil(y - down));
  const to = Math.min(picture.heightPx - 1, Math.floor(y + down));
  for (let row = from; row <= to; row++) {
    const half = across * Math.sqrt(Math.max(0, 1 - ((row - y) / down) ** 2));
    const [left, right] = [Math.round(x - half), Math.round(x + half)];
    if (right <= left) continue;
    // Two rows of luma have one of colour: rows are filled one by one, and the colour with the even ones.
    const [start, end] = [Math.max(0, left), Math.min(picture.widthPx, right)];
    picture.y.fill(colour.y, row * picture.widthPx + start, row * picture.widthPx + end);
    if (row % 2) continue;
    const width = picture.widthPx / 2;
    picture.u.fill(colour.u, (row / 2) * width + (start >> 1), (row / 2) * width + (end >> 1));
    picture.v.fill(colour.v, (row / 2) * width + (start >> 1), (row / 2) * width + (end >> 1));
  }
}
