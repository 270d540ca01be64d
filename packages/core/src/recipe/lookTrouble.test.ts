import type { Source } from '@mellow/model';
import { lookTrouble, sourceFallbacks, type Look } from './lookTrouble';

const looks = (...each: readonly (readonly [s: number, brightest: number, mark: string])[]): Look[] =>
  each.map(([s, brightest, mark]) => ({ atMs: s * 1000, look: { brightest, mark } }));

describe('looks at a source', () => {
  it('say nothing of a picture that moves, or of none', () => {
    expect(lookTrouble([])).toBeNull();
    expect(lookTrouble(looks([0, 200, 'a'], [1, 200, 'b'], [2, 200, 'a'], [3, 200, 'c'], [4, 200, 'd']))).toBeNull();
  });
  it('tell black from frozen, each after three seconds and not before', () => {
    expect(lookTrouble(looks([0, 3, 'a'], [1, 9, 'b'], [2, 16, 'c']))).toBeNull();
    expect(lookTrouble(looks([0, 3, 'a'], [1, 9, 'b'], [2, 16, 'c'], [3, 0, 'd']))).toBe('black');
    expect(lookTrouble(looks([0, 90, 'a'], [1, 90, 'a'], [2, 90, 'a']))).toBeNull();
    expect(lookTrouble(looks([0, 90, 'a'], [1, 90, 'a'], [2, 90, 'a'], [3, 90, 'a']))).toBe('frozen');
  });
  it('begin anew when something shows', () => {
    expect(lookTrouble(looks([0, 0, 'a'], [1, 0, 'a'], [2, 0, 'a'], [3, 80, 'b'], [4, 0, 'a']))).toBeNull();
  });
  it('are followed by what to try, for every source but the practice game', () => {
    const place = { leftPx: 0, topPx: 0, widthPx: 640, heightPx: 360, pointer: true };
    const sources: Source[] = [
      { kind: 'display', name: 'DP-1', ...place },
      { kind: 'region', ...place },
      { kind: 'window', windowId: 1, title: 't', whenClosed: 'end', ...place },
    ];
    for (const source of sources) expect(sourceFallbacks(source).length).toBeGreaterThan(1);
    expect(sourceFallbacks({ kind: 'practice' })).toEqual([]);
  });
});
