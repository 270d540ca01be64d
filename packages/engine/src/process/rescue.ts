import { existsSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import type { MediaJob, RescueResult } from '@mellow/model';
import { copyTracks, type CopyOptions } from '../media/copyTracks';
import { closeTake } from './closeTake';
import { readStoredLedger } from './ledgerWriter';

type RescueOrder = Extract<MediaJob, { kind: 'rescue' }>;
type Log = (level: 'info' | 'warn' | 'error', text: string) => void;

/**
 * Rescues a take whose recorder died: cuts the ledger to its whole batches, copies what the file holds into a closed file,
 * puts that in its place only when it reads as well, and reconciles both. The broken file is kept where anything fails.
 */
export function rescueTake(order: RescueOrder, log: Log): RescueResult {
  const { ledgerFolder, filePath, fallbackFolder } = order;
  const stored = readStoredLedger(ledgerFolder);
  const kept = join(ledgerFolder, `kept${extname(filePath)}`);
  const source = existsSync(filePath) ? filePath : existsSync(kept) ? kept : null;
  const { rate } = stored.header;
  const dueInAll = stored.seconds.reduce(
    (most, row) => Math.max(most, row.due),
    Math.max(order.dueHeard, stored.columns.length),
  );
  const close = (path: string) =>
    closeTake({
      folder: ledgerFolder,
      filePath: path,
      rate,
      cores: stored.header.machine.cores,
      stored,
      interrupted: true,
      dueInAll,
      presented: null,
      passedOver: null,
      notReached: null,
      log,
    });
  if (!source) {
    const closed = close(filePath);
    return {
      ...closed,
      filePath: '',
      facts: null,
      lostUs: framesUs(dueInAll, rate),
      text: 'The file is not where it was written: its folder is gone. Bring the drive back, the take will be looked for again.',
    };
  }
  const path = rewrap(source, fallbackFolder, log);
  const closed = close(path);
  const lostUs = framesUs(closed.tailFrames, rate);
  const text = closed.facts
    ? `The recorder stopped before the file was closed; what had reached the drive was put into a closed file.`
    : extname(path) === '.mp4'
      ? 'The file cannot be read: its type keeps the index for the end, and the end was not reached. The bytes are kept.'
      : 'No whole second had reached the drive yet, so there is nothing to play.';
  return { ...closed, filePath: path, lostUs, text };
}

const framesUs = (frames: number, rate: { num: number; den: number }): number => (frames * rate.den * 1e6) / rate.num;

/** A closed copy in place of the open file; the open one stays where the copy cannot be made. */
function rewrap(source: string, fallbackFolder: string, log: Log): string {
  if (statSync(source).size === 0) return source;
  const format = extname(source) === '.mkv' ? 'matroska' : 'mp4';
  const near = `${source}.rescue${extname(source)}`;
  const muxer: Record<string, string> =
    format === 'matroska'
      ? { cluster_time_limit: '1000' }
      : { movflags: '+empty_moov+delay_moov+default_base_moof', frag_duration: '1000000' };
  const options: CopyOptions = { format, lanes: null, muxer };
  try {
    copyTracks(source, near, options);
    renameSync(near, source);
    log('info', 'The file was copied into a closed one and put in its place.');
    return source;
  } catch (error) {
    rmSync(near, { force: true });
    log(
      'warn',
      `A closed copy could not be made beside the file: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  try {
    const far = join(fallbackFolder, basename(source));
    copyTracks(source, far, options);
    log('info', 'The drive had no room; the closed copy lies in the data folder, the open file stays.');
    return far;
  } catch (error) {
    log('warn', `No closed copy could be made: ${error instanceof Error ? error.message : String(error)}`);
    return source;
  }
}
