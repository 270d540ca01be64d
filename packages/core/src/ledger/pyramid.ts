import { fates, type FrameRate, type Pyramid } from '@mellow/model';
import { periodUs } from '../units';
import { NEVER, type LedgerColumns } from './columns';

/**
 * The rows from `from` to `to` in at most `buckets` pieces of equal length, for a timeline.
 * The frame time of a row is the time from one new picture to the next; means and maxima survive, so no spike is
 * smoothed away.
 */
export function pyramidOf(columns: LedgerColumns, rate: FrameRate, from: number, to: number, buckets: number): Pyramid {
  const end = Math.min(to, columns.length);
  const start = Math.min(from, end);
  const count = Math.max(1, Math.min(buckets, end - start));
  const rowsPerBucket = Math.max(1, (end - start) / count);
  const zeros = () => new Array<number>(count).fill(0);
  const out: Pyramid = {
    first: start,
    rowsPerBucket,
    periodUs: periodUs(rate),
    dueFrames: columns.length,
    meanMs: new Array<number | null>(count).fill(null),
    maxMs: new Array<number | null>(count).fill(null),
    bytes: zeros(),
    repeats: zeros(),
    captureMisses: zeros(),
    encodeMisses: zeros(),
    writeMisses: zeros(),
  };
  const filed = zeros();
  const intervals = pictureIntervalsMs(columns);
  for (let n = start; n < end; n++) {
    const b = Math.min(count - 1, Math.floor((n - start) / rowsPerBucket));
    const bump = (list: number[]) => (list[b] = (list[b] ?? 0) + 1);
    const fate = fates[columns.fate[n] ?? 0];
    if (fate === 'repeat') bump(out.repeats);
    else if (fate === 'capture-miss') bump(out.captureMisses);
    else if (fate === 'encode-miss') bump(out.encodeMisses);
    else if (fate === 'write-miss') bump(out.writeMisses);
    const bytes = columns.bytes[n] ?? NEVER;
    if (bytes !== NEVER) out.bytes[b] = (out.bytes[b] ?? 0) + bytes;
    const ms = intervals[n] ?? NaN;
    if (!Number.isNaN(ms)) {
      bump(filed);
      out.meanMs[b] = (out.meanMs[b] ?? 0) + ms;
      out.maxMs[b] = Math.max(out.maxMs[b] ?? 0, ms);
    }
  }
  out.meanMs = out.meanMs.map((sum, b) => (sum === null ? null : sum / (filed[b] ?? 1)));
  return out;
}

/**
 * Per row: the time from the last new picture to this one, by when the game presented them, milliseconds.
 * NaN for rows without a new picture, and for the first.
 */
export function pictureIntervalsMs(columns: LedgerColumns): Float64Array {
  const out = new Float64Array(columns.length).fill(NaN);
  const isNew = fates.indexOf('new');
  let beforeUs = NaN;
  for (let n = 0; n < columns.length; n++) {
    const source = columns.source[n] ?? NEVER;
    if (columns.fate[n] !== isNew || source === NEVER) continue;
    const presentedUs = (columns.dueUs[n] ?? 0) + source;
    out[n] = (presentedUs - beforeUs) / 1000;
    beforeUs = presentedUs;
  }
  return out;
}
