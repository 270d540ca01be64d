import {
  formatBitrate,
  formatBytes,
  formatChangePercent,
  formatCount,
  formatDbfs,
  formatDuration,
  formatKbps,
  formatPercent,
  formatRoom,
  listWords,
  plural,
  signed,
} from './index';

const plain = (text: string) => text.replaceAll('\u2009', ' ');

describe('numbers as words', () => {
  it('keeps the unit visible and three figures', () => {
    expect(formatBytes(7_450_000_000)).toBe('7.45 GB');
    expect(formatBytes(12_500_000)).toBe('12.5 MB');
    expect(formatBytes(999_400)).toBe('999 kB');
    expect(formatBytes(999_600)).toBe('1.00 MB');
    expect(formatBitrate(16_200_000)).toBe('16.2 Mb/s');
    expect(formatBitrate(960_000)).toBe('960 kb/s');
    expect(plain(formatKbps(9000))).toBe('9 000 kb/s');
    expect(plain(formatCount(319_200))).toBe('319 200');
  });
  it('writes durations as h:mm:ss and room by size', () => {
    expect(formatDuration(5320)).toBe('1:28:40');
    expect(formatDuration(59.9999999)).toBe('0:01:00');
    expect(formatRoom(0.75)).toBe('45 min');
    expect(formatRoom(82.4)).toBe('82 h');
  });
  it('uses a real minus and no sign on zero', () => {
    expect(signed(-5.62, 1)).toBe('−5.6');
    expect(signed(0.04, 1)).toBe('0.0');
    expect(formatChangePercent(0.018)).toBe('+1.8 %');
    expect(formatDbfs(-12.04)).toBe('−12.0 dBFS');
    expect(formatDbfs(null)).toBe('silent');
    expect(formatPercent(0.0133)).toBe('1.3 %');
  });
  it('counts in words', () => {
    expect(plural(1, 'frame')).toBe('1 frame');
    expect(plural(3, 'encode miss', 'encode misses')).toBe('3 encode misses');
    expect(listWords(['a', 'b', 'c'])).toBe('a, b and c');
  });
});
