import * as fc from 'fast-check';
import { colourOf, createPicture, fillRect } from '@mellow/practice';
import { gameHelp, gameOptionsOf } from './gameOptions';
import { toRgb } from './rgbPicture';

describe('what the game is asked', () => {
  it('has a start value for everything', () => {
    const { game, logPath, seconds } = gameOptionsOf([]);
    expect([game.scene, game.widthPx, game.heightPx, game.capFps, game.strip]).toEqual([
      'paper-comets',
      1280,
      720,
      60,
      true,
    ]);
    expect([logPath, seconds, game.title]).toEqual([null, null, 'Paper Comets']);
  });
  it('is taken over, each', () => {
    const { game, logPath, seconds } = gameOptionsOf([
      ...['--scene', 'tin-cathedral', '--size', '640x360', '--cap', '30', '--title', 'Oil Street'],
      ...['--log', 'frames.csv', '--seconds', '2.5', '--no-strip'],
    ]);
    expect(game).toMatchObject({
      scene: 'tin-cathedral',
      widthPx: 640,
      heightPx: 360,
      capFps: 30,
      title: 'Oil Street',
      strip: false,
    });
    expect([logPath, seconds]).toEqual(['frames.csv', 2.5]);
  });
  it.each([
    [['--scene', 'chess'], /There is no scene "chess": choose from paper-comets/],
    [['--size', 'large'], /"large" is no size: write 1280x720/],
    [['--size', '641x360'], /widthPx/],
    [['--cap', 'fast'], /capFps/],
    [['--cap', '1000'], /capFps/],
    [['--seconds', '0'], /"0" is no length/],
    [['--speed', '3'], /--speed/],
  ])('%j is refused in words', (args, words) => {
    expect(() => gameOptionsOf(args)).toThrow(words);
  });
  it('names every option in its help', () => {
    for (const name of ['scene', 'size', 'cap', 'title', 'log', 'seconds', 'no-strip', 'no-sound', 'output'])
      expect(gameHelp).toContain(`--${name}`);
  });
});

describe('4:2:0 as the screen shows it', () => {
  const shownAs = (hex: string): number[] => {
    const picture = createPicture(4, 4);
    fillRect(picture, 0, 0, 4, 4, colourOf(hex));
    const into = new Uint8Array(4 * 4 * 4);
    toRgb(picture, into);
    expect(new Set(Array.from({ length: 16 }, (_, i) => into.slice(i * 4, i * 4 + 3).join())).size).toBe(1);
    return [into[2]!, into[1]!, into[0]!];
  };
  it('black, white and the bars of Rec. 709 (ITU-R BT.709) come back as they were', () => {
    for (const [hex, rgb] of [
      ['#000000', [0, 0, 0]],
      ['#FFFFFF', [255, 255, 255]],
      ['#FF0000', [255, 0, 0]],
      ['#00FF00', [0, 255, 0]],
      ['#0000FF', [0, 0, 255]],
    ] as const)
      shownAs(hex).forEach((value, i) => expect(Math.abs(value - rgb[i]!)).toBeLessThanOrEqual(2));
  });
  it('and so does every colour, within the steps that eight bits of limited range leave', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (value) => {
        const hex = `#${value.toString(16).padStart(6, '0')}`;
        const rgb = [value >> 16, (value >> 8) & 255, value & 255];
        shownAs(hex).forEach((found, i) => expect(Math.abs(found - rgb[i]!)).toBeLessThanOrEqual(3));
      }),
    );
  });
});

describe('the game’s sound', () => {
  it('is heard through the output in use unless it is told otherwise', () => {
    expect(gameOptionsOf([])).toMatchObject({ sound: true, output: null });
    expect(gameOptionsOf(['--no-sound'])).toMatchObject({ sound: false });
    expect(gameOptionsOf(['--output', 'headphones'])).toMatchObject({ sound: true, output: 'headphones' });
  });
  it('is told of in the help', () => {
    for (const words of ['--no-sound', '--output NAME']) expect(gameHelp).toContain(words);
  });
});
