import { openWindowGame } from '../test/support/display';
import { fromWindow, openScreenBench, small, type ScreenBench } from '../test/support/screenTake';
import { openSoundSystem, type TestSoundSystem } from '../test/support/soundSystem';
import { device, lane } from '../test/support/soundTake';
import { clicksIn, flashesIn, listenForClicks } from '../test/support/soundTiming';
import { stereoOf } from '../test/support/tones';

/**
 * The window game with its own sound: a flash on the screen and a click from the output, once a second, recorded from where a
 * player sees and hears them. What the game wrote of each frame and a second listener at the output are the reference.
 */
jest.setTimeout(200_000);
// What a test's player loses while the PC lets nobody run is no fault of what is tried.
jest.retryTimes(2, { logErrorsBeforeRetry: true });

let sounds: TestSoundSystem;
let screen: ScreenBench;
beforeAll(async () => {
  sounds = await openSoundSystem([{ name: 'speakers' }]);
  screen = await openScreenBench();
});
afterAll(async () => {
  await screen.close();
  await sounds.close();
});

const frameMs = 1000 / 30;
const size = small;
const median = (values: readonly number[]): number => values.toSorted((a, b) => a - b)[values.length >> 1] ?? NaN;
const nearest = (values: readonly number[], to: number): number =>
  values.reduce((best, at) => (Math.abs(at - to) < Math.abs(best - to) ? at : best), Infinity);

it('flash and click of the window game are as far apart in the file as a player saw and heard them, first and last alike', async () => {
  const args = ['--size', `${size.widthPx}x${size.heightPx}`, '--output', 'speakers'];
  const game = await openWindowGame(screen.display.name, screen.bench.folder, args);
  const heard = listenForClicks('speakers.monitor');
  const seconds = 60;
  const take = await screen.roll(fromWindow(game.window), {
    seconds,
    change: {
      recipe: { sounds: [device('game', 'speakers.monitor')], lanes: [lane('Game', 'game')] },
      size,
      game: size,
    },
  });
  heard.stop();
  await game.close();
  const shownUs = new Map(game.shown().map((one) => [one.frame, one.shownUs]));
  const clicks = clicksIn(stereoOf(take.result.filePath, 0)).map((at) => (at / 48_000) * 1e6);
  const heardUs = heard.clicksUs();
  expect(clicks.length).toBeGreaterThan(seconds - 5);
  /** By how much the flash is later against its click in the file than it was for the player, milliseconds. */
  const later = flashesIn(take).flatMap(({ timeUs: flashUs, number }) => {
    const seenUs = shownUs.get(number ?? -1);
    if (seenUs === undefined) return [];
    const inFile = nearest(clicks, flashUs) - flashUs;
    const forPlayer = nearest(heardUs, seenUs) - seenUs;
    return Math.max(Math.abs(inFile), Math.abs(forPlayer)) < 450_000 ? [(forPlayer - inFile) / 1000] : [];
  });
  expect(later.length).toBeGreaterThan(seconds - 15);
  const [start, end] = [median(later.slice(0, 9)), median(later.slice(-9))];
  for (const ms of [start, end]) expect(Math.abs(ms)).toBeLessThan(frameMs);
  expect(Math.abs(end - start)).toBeLessThan(frameMs / 2);
});
