import { createDecodeTimes } from './decodeTimes';

const unset = -(2n ** 63n);
const through = (delay: number, packets: [bigint, bigint][]): number[] => {
  const decodeTime = createDecodeTimes(delay);
  return packets.map(([pts, dts]) => decodeTime(pts, dts));
};

it('are the encoder’s own where it tells them', () => {
  const told: [bigint, bigint][] = [
    [0n, -2n],
    [4n, -1n],
    [2n, 0n],
    [1n, 1n],
  ];
  expect(through(2, told)).toEqual([-2, -1, 0, 1]);
});

it.each<[string, [bigint, bigint][]]>([
  ['unset', [[0n, unset]]],
  [
    'unset and in front of a gap',
    [
      [0n, unset],
      [5n, unset],
    ],
  ],
  ['what stood in memory', [[0n, -(2n ** 47n) + 5n]]],
  [
    'what stood in memory for the second',
    [
      [0n, -2n],
      [1n, -94_000_000_000n],
    ],
  ],
  [
    'later than the picture',
    [
      [0n, 7n],
      [1n, 8n],
    ],
  ],
  [
    'falling',
    [
      [0n, -2n],
      [1n, -5n],
    ],
  ],
])('rise and are never later than the picture where the encoder’s are %s', (_, packets) => {
  const times = through(2, packets);
  times.forEach((time, i) => expect(BigInt(time)).toBeLessThanOrEqual(packets[i]![0]));
  expect(times).toEqual(times.toSorted((a, b) => a - b));
  expect(new Set(times).size).toBe(times.length);
  expect(times[0]).toBe(-2);
});
