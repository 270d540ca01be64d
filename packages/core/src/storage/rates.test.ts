import * as fc from 'fast-check';
import {
  bitrateOf,
  bitsPerPixel,
  bytesPerHour,
  bytesPerMinute,
  hoursOfRoom,
  minutesPerGigabyte,
  rawBytesPerSecond,
} from './index';

// Formulas and values of common practice.
describe('rates and sizes', () => {
  it.each([
    [6000, 45, 2.7, 22.2],
    [16_000, 120, 7.2, 8.33],
    [100_000, 750, 45, 1.33],
  ])('%d kb/s is %d MB/min, %d GB/h, %d min/GB', (kbps, mbMin, gbHour, minGb) => {
    expect(bytesPerMinute(kbps * 1000) / 1e6).toBeCloseTo(mbMin, 6);
    expect(bytesPerHour(kbps * 1000) / 1e9).toBeCloseTo(gbHour, 6);
    expect(minutesPerGigabyte(kbps * 1000)).toBeCloseTo(minGb, 1);
  });
  it('follows MB/min = kb/s x 0.0075 and minutes per GB = 133 333 / kb/s for any rate', () => {
    fc.assert(
      fc.property(fc.integer({ min: 100, max: 400_000 }), (kbps) => {
        expect(bytesPerMinute(kbps * 1000) / 1e6).toBeCloseTo(kbps * 0.0075, 6);
        expect(bytesPerHour(kbps * 1000) / 1e9).toBeCloseTo(kbps * 0.00045, 6);
        expect(minutesPerGigabyte(kbps * 1000) * kbps).toBeCloseTo(133_333.33, 1);
      }),
    );
  });
  it('a trial of 14.4 MB in 12 s runs at 9.6 Mb/s', () => expect(bitrateOf(14.4e6, 12)).toBeCloseTo(9.6e6, 3));
  it.each([
    [1920, 1080, 60, 12, 186.6],
    [1920, 1080, 60, 24, 373.2],
    [1920, 1080, 60, 32, 497.7],
    [3840, 2160, 30, 12, 373.2],
    [1920, 1080, 240, 12, 746.5],
  ])('raw %dx%d at %d fps and %d bit is %d MB/s', (w, h, fps, bits, mb) => {
    expect(rawBytesPerSecond(w, h, { num: fps, den: 1 }, bits) / 1e6).toBeCloseTo(mb, 0);
  });
  it('bits per pixel of 1080p60 at 6 000 and 16 000 kb/s', () => {
    expect(bitsPerPixel(6e6, 1920, 1080, { num: 60, den: 1 })).toBeCloseTo(0.048, 3);
    expect(bitsPerPixel(16e6, 1920, 1080, { num: 60, den: 1 })).toBeCloseTo(0.129, 3);
  });
  it('room is free bytes over the hourly need', () => {
    expect(hoursOfRoom(605e9, 17.36e6)).toBeCloseTo(77.4, 1);
    expect(hoursOfRoom(1e9, 0)).toBe(Infinity);
  });
});
