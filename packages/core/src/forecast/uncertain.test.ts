import { drawGuesses, middleGuess, sharingFigures, spreadOf } from './index';
import { rangeOf } from './predict';

const spreads = {
  game: { low: 0.8, high: 1.5 },
  size: { low: 1, high: 1 },
  encode: { low: 0.5, high: 2 },
  bits: { low: 0.9, high: 1.1 },
  driveSpeed: { low: 0.3, high: 3 },
};

describe('guesses at what is not known', () => {
  it.each([10, 20, 50])('leave a tenth of %d below and a tenth above each range, whatever the seed', (count) => {
    for (const seed of [1, 2, 77, 4711]) {
      const guesses = drawGuesses(seed, count, spreads);
      for (const name of ['game', 'encode', 'bits', 'driveSpeed'] as const) {
        const { low, high } = spreads[name];
        const outside = (of: (factor: number) => boolean) => guesses.filter((guess) => of(guess[name])).length;
        // One drawn from each tenth: those below and above the range are the outermost tenths.
        expect(outside((factor) => factor < low)).toBe(count / 10);
        expect(outside((factor) => factor > high)).toBe(count / 10);
      }
    }
  });
  it('do not touch what is known, and are the same for the same seed', () => {
    expect(drawGuesses(3, 12, spreads).every((guess) => guess.size === 1)).toBe(true);
    expect(drawGuesses(3, 12, spreads)).toEqual(drawGuesses(3, 12, spreads));
    expect(drawGuesses(4, 12, spreads)).not.toEqual(drawGuesses(3, 12, spreads));
  });
  it('draw each thing by itself: a slow drive says nothing of the encoder', () => {
    const guesses = drawGuesses(9, 200, spreads);
    const logs = (name: 'encode' | 'driveSpeed') => guesses.map((guess) => Math.log(guess[name]));
    const [a, b] = [logs('encode'), logs('driveSpeed')];
    const mean = (values: number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
    const [ma, mb] = [mean(a), mean(b)];
    const product = mean(a.map((v, i) => (v - ma) * (b[i]! - mb)));
    const scale = Math.sqrt(mean(a.map((v) => (v - ma) ** 2)) * mean(b.map((v) => (v - mb) ** 2)));
    expect(Math.abs(product / scale)).toBeLessThan(0.2);
  });
  it('have the middle of everything as a guess of their own', () => {
    expect(middleGuess.sharing.perCore).toBe(sharingFigures.perCore.value);
    expect([middleGuess.game, middleGuess.encode, middleGuess.bits]).toEqual([1, 1, 1]);
  });
  it('take a figure of nothing as known', () => {
    expect(spreadOf({ value: 0, low: 0, high: 0 })).toEqual({ low: 1, high: 1 });
    expect(spreadOf({ value: 4, low: 2, high: 6 })).toEqual({ low: 0.5, high: 1.5 });
  });
});

describe('a range over draws', () => {
  it('is 10 to 90 %, and holds a mean that one draw carries beyond them', () => {
    expect(rangeOf([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11])).toEqual({ value: 6, low: 2, high: 10 });
    expect(rangeOf([...Array<number>(19).fill(0), 290])).toEqual({ value: 14.5, low: 0, high: 14.5 });
    expect(rangeOf([-20, ...Array<number>(19).fill(0)])).toMatchObject({ value: -1, low: -1 });
  });
});
