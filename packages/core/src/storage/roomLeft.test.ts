import { roomLeftS, roomWarningDue } from './index';

const live = (roomBytes: number | null, bytesWritten: number, elapsedS: number) => ({
  roomBytes,
  bytesWritten,
  elapsedUs: elapsedS * 1e6,
});

it('600 MB at 1 MB/s are ten minutes', () => expect(roomLeftS(live(600e6, 60e6, 60))).toBeCloseTo(600, 6));

it('says nothing where the room is unknown, and nothing of the first seconds', () => {
  expect(roomLeftS(live(null, 60e6, 60))).toBeNull();
  expect(roomLeftS(live(600e6, 6e6, 6))).toBeNull();
  expect(roomLeftS(live(600e6, 0, 60))).toBeNull();
});

it('warns at ten minutes and at two, each once, also where the room jumps', () => {
  expect(
    [700, 599, 590, 300, 119, 60, 5].reduce<[number | null, (number | null)[]]>(
      ([told, all], leftS) => {
        const due = roomWarningDue(leftS, told);
        return [due ?? told, [...all, due]];
      },
      [null, []],
    )[1],
  ).toEqual([null, 600, null, null, 120, null, null]);
  expect(roomWarningDue(90, null)).toBe(120);
  expect(roomWarningDue(900, 120)).toBeNull();
  expect(roomWarningDue(null, null)).toBeNull();
});
