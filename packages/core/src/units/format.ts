import type { FrameRate } from '@mellow/model';
import { framesPerSecond } from './frameRate';

/** The one module that turns numbers into words; every unit on the screen comes from here. */

const thin = '\u2009'; // narrow in the words' font; the figures' font has one width for all

/** Whole number with thin spaces between thousands: 319 200. */
export function formatCount(value: number): string {
  return Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+(?!\d))/g, thin);
}

/** Number with about three significant figures: 7.45, 12.5, 168. */
export function formatFigure(value: number): string {
  const size = Math.abs(value);
  if (size >= 99.95) return formatCount(value);
  if (size >= 9.995) return value.toFixed(1);
  return value.toFixed(2);
}

export interface ValueWithUnit {
  value: string;
  unit: string;
}

const joined = (pair: ValueWithUnit): string => `${pair.value} ${pair.unit}`;

/** Bytes in kB, MB or GB (10^3, 10^6, 10^9). */
export function bytesParts(bytes: number): ValueWithUnit {
  if (bytes >= 999.5e6) return { value: formatFigure(bytes / 1e9), unit: 'GB' };
  if (bytes >= 999.5e3) return { value: formatFigure(bytes / 1e6), unit: 'MB' };
  return { value: formatFigure(bytes / 1e3), unit: 'kB' };
}
export const formatBytes = (bytes: number): string => joined(bytesParts(bytes));

/** Bit rate in kb/s below 1 Mb/s, otherwise Mb/s. */
export function bitratePartsOf(bitsPerSecond: number): ValueWithUnit {
  return bitsPerSecond >= 999_500
    ? { value: formatFigure(bitsPerSecond / 1e6), unit: 'Mb/s' }
    : { value: formatCount(bitsPerSecond / 1e3), unit: 'kb/s' };
}
export const formatBitrate = (bitsPerSecond: number): string => joined(bitratePartsOf(bitsPerSecond));
export const formatKbps = (kbps: number): string => `${formatCount(kbps)} kb/s`;
export const formatMegabytesPerSecond = (bytesPerSecond: number): string =>
  `${formatFigure(bytesPerSecond / 1e6)} MB/s`;

/** Frames a second; two decimals only when fractional. */
export function formatFps(value: number): string {
  return `${formatFpsNumber(value)} fps`;
}
export function formatFpsNumber(value: number): string {
  return Math.abs(value - Math.round(value)) < 0.005 ? String(Math.round(value)) : value.toFixed(2);
}
/** A measured mean rate, one decimal. */
export const formatMeanFps = (value: number): string => `${value.toFixed(1)} fps`;
export const formatRate = (rate: FrameRate): string => formatFps(framesPerSecond(rate));
/** A rate as typed: 60, or 30000/1001. */
export const formatRateExact = (rate: FrameRate): string =>
  rate.den === 1 ? String(rate.num) : `${rate.num}/${rate.den}`;

/** Milliseconds with one decimal. */
export const formatMsNumber = (ms: number): string => ms.toFixed(1);
export const formatMs = (ms: number): string => `${formatMsNumber(ms)} ms`;

export const formatSize = (widthPx: number, heightPx: number): string => `${widthPx}×${heightPx}`;

/** Decibels below full scale with one decimal and a real minus; silence has no figure. */
export function formatDbfs(dbfs: number | null): string {
  return dbfs === null ? 'silent' : `${signed(dbfs, 1)} dBFS`;
}

/** Per cent with one decimal below 10. */
export function formatPercent(share: number): string {
  const percent = share * 100;
  return `${Math.abs(percent) < 9.95 ? percent.toFixed(1) : Math.round(percent)} %`;
}

/** A level as a figure beside its unit: "−12.6"; a question mark where it is not known. */
export const formatLevel = (db: number | null | undefined): string =>
  db === null || db === undefined ? '?' : `${db < 0 ? '−' : ''}${Math.abs(db).toFixed(1)}`;

/** Number with a sign: +1.8, −5.6; zero without one. */
export function signed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  if (Number(text) === 0) return text;
  return `${value < 0 ? '−' : '+'}${text}`;
}
/** Signed change, used for differences; a plain minus for levels comes out of it too. */
export const formatChangePercent = (share: number): string => `${signed(share * 100, 1)} %`;

/** Duration h:mm:ss. */
export function formatDuration(seconds: number): string {
  const total = Math.max(0, Math.floor(seconds + 1e-6));
  const pad = (n: number) => String(n).padStart(2, '0');
  return `${Math.floor(total / 3600)}:${pad(Math.floor((total % 3600) / 60))}:${pad(total % 60)}`;
}
/** Seconds with hundredths, for short takes. */
export const formatSeconds = (seconds: number): string => `${seconds.toFixed(2)} s`;

/** Hours with one decimal under 10, minutes below an hour. */
export function formatRoom(hours: number): string {
  if (hours < 1) return `${Math.floor(hours * 60)} min`;
  return `${hours < 10 ? hours.toFixed(1) : formatCount(Math.floor(hours))} h`;
}

/** "1 frame", "41 frames". */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}

/** Small counts as words at the start of a sentence. */
export function countWord(count: number): string {
  const words = [
    'no',
    'one',
    'two',
    'three',
    'four',
    'five',
    'six',
    'seven',
    'eight',
    'nine',
    'ten',
    'eleven',
    'twelve',
  ];
  return words[count] ?? formatCount(count);
}
export const capitalised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** "a, b and c". */
export function listWords(words: readonly string[]): string {
  if (words.length < 2) return words[0] ?? '';
  return `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}
