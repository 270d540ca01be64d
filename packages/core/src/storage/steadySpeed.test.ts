import { isSteady, steadySpeed } from './index';

it('waits until a drive’s own cache is full, and tells what it does then', () => {
  const trace = [500, 510, 490, 505, 300, 120, 82, 80, 81, 79, 80, 80].map((mb) => mb * 1e6);
  const steadyAt = trace.findIndex((_, i) => isSteady(trace.slice(0, i + 1)));
  // Not while the cache takes it (four pieces are too few), but six pieces after it is full.
  expect(steadyAt).toBe(11);
  expect(steadySpeed(trace)).toEqual({ bytesPerSecond: (482 / 6) * 1e6, steady: true });
});
it('says where it never became steady, and tells the mean of the end', () => {
  const trace = [100, 10, 100, 10, 100, 10, 100, 10].map((mb) => mb * 1e6);
  expect(steadySpeed(trace)).toEqual({ bytesPerSecond: 55e6, steady: false });
  expect(steadySpeed([])).toEqual({ bytesPerSecond: 0, steady: false });
});
