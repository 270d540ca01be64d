import { practiceGameSchema } from '@mellow/model';
import { addSound, soundRateHz } from '@mellow/practice';
import { beginRound, type Direction } from '../gameRound';
import { toRgb } from '../rgbPicture';

/** The practice game in a browser's page: draws at the display's own turns and tells what it has shown. */
const given = JSON.parse(document.body.dataset['given'] ?? '{}') as { game: unknown; sound: boolean };
const game = practiceGameSchema.parse(given.game);
const canvas = document.querySelector('canvas');
const context = canvas?.getContext('2d');
if (!canvas || !context) throw new Error('This page has no canvas to draw on.');
canvas.width = game.widthPx;
canvas.height = game.heightPx;

const directions: Partial<Record<string, Direction>> = {
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
};
const held = new Set<Direction>();
addEventListener('keydown', ({ key }) => {
  const direction = directions[key];
  if (direction) held.add(direction);
});
addEventListener('keyup', ({ key }) => {
  const direction = directions[key];
  if (direction) held.delete(direction);
});

const round = beginRound(game);
const image = new ImageData(game.widthPx, game.heightPx);
const bytes = new Uint8Array(image.data.buffer);
const startMs = performance.now();
/** Lines of the log wait here, so that telling them costs a request a second and not one a frame. */
let lines: string[] = [];
let last = -1;

function turn(): void {
  const slot = Math.floor(((performance.now() - startMs) * round.rate) / 1000);
  if (slot > last) {
    last = slot;
    toRgb(round.frame(slot, held), bytes);
    redFirst(bytes);
    context!.putImageData(image, 0, 0);
    lines.push(`${slot},${Math.round((performance.timeOrigin + performance.now()) * 1000)}`);
  }
  requestAnimationFrame(turn);
}
requestAnimationFrame(turn);

/** A canvas has red first, and a byte of opacity. */
function redFirst(picture: Uint8Array): void {
  for (let at = 0; at < picture.length; at += 4) {
    const blue = picture[at] ?? 0;
    picture[at] = picture[at + 2] ?? 0;
    picture[at + 2] = blue;
    picture[at + 3] = 255;
  }
}

setInterval(() => {
  const told = lines;
  lines = [];
  void fetch('/shown', { method: 'POST', body: told.join('\n') }).catch(() => {});
}, 1000);
addEventListener('pagehide', () => navigator.sendBeacon('/closed', lines.join('\n')));

/** Browsers let a page be heard after it was touched once. */
const blockS = 0.5;
function hear(): void {
  const audio = new AudioContext({ sampleRate: soundRateHz });
  const begin = audio.currentTime - (performance.now() - startMs) / 1000;
  let next = Math.ceil((audio.currentTime - begin) / blockS);
  const fill = (): void => {
    for (; begin + next * blockS < audio.currentTime + 2 * blockS; next++) {
      const samples = new Float32Array(blockS * soundRateHz * 2);
      addSound(samples, 'game', next * blockS * soundRateHz, game.strip);
      const buffer = audio.createBuffer(2, blockS * soundRateHz, soundRateHz);
      for (const side of [0, 1]) buffer.getChannelData(side).set(samples.filter((_, i) => i % 2 === side));
      const source = audio.createBufferSource();
      source.buffer = buffer;
      source.connect(audio.destination);
      source.start(Math.max(audio.currentTime, begin + next * blockS));
    }
  };
  fill();
  setInterval(fill, (blockS * 1000) / 2);
}
if (given.sound) for (const event of ['keydown', 'pointerdown'] as const) addEventListener(event, hear, { once: true });
