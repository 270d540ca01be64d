import { remembering } from './remember';

describe('results that are remembered', () => {
  const counted = (most: number) => {
    const asked: number[] = [];
    const f = remembering(
      most,
      (n: number) => String(n),
      (n: number) => {
        asked.push(n);
        return new Float64Array(n).fill(n);
      },
    );
    return { f, asked };
  };

  it('are worked out once, and belong to their key', () => {
    const { f, asked } = counted(4);
    expect([...f(2)]).toEqual([2, 2]);
    expect([...f(3)]).toEqual([3, 3, 3]);
    expect(f(2)).toBe(f(2));
    expect(asked).toEqual([2, 3]);
  });

  it('are as many as said: the oldest is worked out again', () => {
    const { f, asked } = counted(2);
    for (const n of [1, 2, 3, 3, 2, 1]) f(n);
    expect(asked).toEqual([1, 2, 3, 1]);
  });

  it('are not kept when they are long', () => {
    const { f, asked } = counted(2);
    f(20_001);
    f(20_001);
    expect(asked).toHaveLength(2);
  });
});
