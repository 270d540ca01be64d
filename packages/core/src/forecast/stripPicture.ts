import { fates, type Fate, type lossFates } from '@mellow/model';
import { NEVER, type LedgerColumns } from '../ledger';
import type { Strip } from './predict';

/** A run of the next seconds as it is drawn: a bar a due frame, and a mark where no new picture was filed. */
export interface StripPicture {
  periodMs: number;
  dueFrames: number;
  passages: { kind: 'calm' | 'busy' | 'loading'; seconds: number }[];
  /** Milliseconds the encoder spent on each due frame; 0 where it never came there. */
  encodeMs: number[];
  /** Due frames in a row with one fate other than new, by where they begin; `waitMs` is how long the picture before them stood. */
  marks: { due: number; frames: number; fate: Fate; waitMs: number }[];
  counts: Record<'repeat' | (typeof lossFates)[number], number>;
}

/**
 * Time each frame was worked on: from when the encoder was free for it until it was done.
 * A frame leaves after `held` later ones are done, so it is done when the one so many before it left.
 */
function encodeTimesMs(columns: LedgerColumns, held: number): number[] {
  const went: number[] = [];
  for (let n = 0; n < columns.length; n++)
    if (columns.encodeIn[n] !== NEVER && columns.encodeOut[n] !== NEVER) went.push(n);
  const times = new Array<number>(columns.length).fill(0);
  let before = -Infinity;
  went.forEach((n, i) => {
    const doneIn = went[i - held];
    // The first frames have nothing before them that tells when they were done; the last known time stands in.
    if (doneIn === undefined) return;
    const done = columns.dueUs[doneIn]! + columns.encodeOut[doneIn]!;
    const from = Math.max(before, columns.dueUs[n]! + columns.encodeIn[n]!);
    if (done > from) times[n] = (done - from) / 1000;
    before = done;
  });
  return times;
}

/** @param held pictures the encoder keeps back */
export function stripPictureOf({ run, passages }: Strip, held: number): StripPicture {
  const { columns } = run;
  const period =
    columns.length > 1 ? (columns.dueUs[columns.length - 1]! - columns.dueUs[0]!) / (columns.length - 1) / 1000 : 0;
  const counts = { repeat: 0, 'capture-miss': 0, 'encode-miss': 0, 'write-miss': 0 };
  const marks: StripPicture['marks'] = [];
  for (let n = 0; n < columns.length; n++) {
    const fate = fates[columns.fate[n] ?? 0] ?? 'new';
    if (!(fate in counts)) continue;
    counts[fate as keyof typeof counts]++;
    const last = marks[marks.length - 1];
    if (last && last.fate === fate && last.due + last.frames === n) last.frames++;
    else marks.push({ due: n, frames: 1, fate, waitMs: 0 });
    const mark = marks[marks.length - 1]!;
    mark.waitMs = (mark.frames + 1) * period;
  }
  return {
    periodMs: period,
    dueFrames: columns.length,
    passages: passages.map((p) => ({ ...p })),
    encodeMs: encodeTimesMs(columns, held),
    marks,
    counts,
  };
}
