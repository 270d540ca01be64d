import { existsSync, readFileSync, rmSync, statSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { errorText } from '@mellow/core';
import {
  fileIdentitySchema,
  type FileIdentity,
  type FrameRate,
  type MediaJob,
  type Recipe,
  type RescueResult,
} from '@mellow/model';
import { z } from 'zod';
import { syncFile, temporaryBeside, writeDurably } from '../files/durable';
import { identityOfPath, whatLiesAt } from '../files/identity';
import { reserveNoted, type Journal } from '../files/journal';
import { replaceOwn, type Reservation } from '../files/reserve';
import { closeLedger, emptyReading } from '../ledger/closeLedger';
import { ledgerNames } from '../files/ledgerNames';
import { liveSeconds, readHeader } from '../ledger/storedLedger';
import { copyTracks, type CopyOptions } from '../copying/copyTracks';
import { writePartsList } from '../container/partsList';
import { writeStripesList } from '../container/stripesList';
import { rebuildMp4 } from './rebuildMp4';
import { factsOf, type ReadProgress } from '../reading/readBack';

type RescueOrder = Extract<MediaJob, { kind: 'rescue' }>;
type Log = (level: 'info' | 'warn' | 'error', text: string) => void;
interface Voice {
  log: Log;
  progress: ReadProgress;
  journal: Journal;
}

const rescuedSchema = z.object({ path: z.string(), identity: fileIdentitySchema });

/** Where a take's footage lies now; `rescued`: it is closed already, by a rescue that was cut off afterwards. */
type Found = { at: 'here'; path: string; rescued: FileIdentity | null } | { at: 'away' } | { at: 'replaced' };

/**
 * Rescues a take whose recorder died: copies what the file holds into a closed file, reads that back, puts it in its place
 * only then, and reconciles it with the whole batches of the ledger. Where anything fails the broken file stays as it is.
 * A file that is not the one that was reserved is never touched.
 */
export function rescueTake(order: RescueOrder, voice: Voice): RescueResult {
  const { log, progress } = voice;
  const header = readHeader(order.ledgerFolder);
  const { rate } = header;
  const identity = order.identity ?? header.identity;
  let dueInAll = order.dueHeard;
  let lastDue = 0;
  for (const second of liveSeconds(order.ledgerFolder)) lastDue = Math.max(lastDue, second.due);
  if (header.clock === 'real') lastDue += dueAfterLastSecond(order.ledgerFolder, rate);
  dueInAll = Math.max(dueInAll, lastDue);
  if (order.stripes) return rescueStripes(order, order.stripes, dueInAll, rate, log, progress);
  const found = lookFor(order, identity);
  const close = (path: string) =>
    closeLedger({
      folder: order.ledgerFolder,
      filePath: path,
      interrupted: true,
      dueInAll,
      counts: { presented: null, passedOver: null, notReached: null },
      log,
      progress,
    });
  const away = order.earlier.some(({ path }) => !existsSync(path));
  if (found.at !== 'here' || away) {
    const nothing = { ...emptyReading(dueInAll), filePath: '', identity: null, openPath: '', emptyLast: false };
    const lostUs = framesUs(dueInAll, rate);
    return found.at !== 'replaced'
      ? {
          ...nothing,
          away: true,
          lostUs,
          text: `The file is not at ${order.filePath}: its drive or folder is away. Nothing was changed; when it is back, the take is looked for again.`,
        }
      : {
          ...nothing,
          away: false,
          lostUs,
          text: `Another file lies at ${order.filePath} by now. It was not touched; the footage of this take is gone.`,
        };
  }
  const closed: Reservation =
    found.rescued !== null
      ? { path: found.path, identity: found.rescued }
      : closedCopy(found.path, identity, order, copierOf(order, header.recipe, progress), voice);
  // What was begun just before it died may hold nothing yet.
  const last = { path: closed.path, startUs: order.startUs };
  const emptyLast = order.earlier.length > 0 && !readable(closed.path);
  const parts = emptyLast ? order.earlier : [...order.earlier, last];
  const reading = close(parts.length > 1 ? writePartsList(order.ledgerFolder, parts) : (parts[0]?.path ?? closed.path));
  return {
    ...reading,
    filePath: closed.path,
    identity: closed.identity,
    openPath: closed.path === found.path ? '' : found.path,
    away: false,
    emptyLast,
    lostUs: framesUs(reading.tailFrames, rate),
    text: textOf(reading.facts !== null, header.recipe.container),
  };
}

/** Stripes stay where they are: what reached all drives is read as it is, up to the first block that is missing. */
function rescueStripes(
  { ledgerFolder }: RescueOrder,
  { files, ...layout }: NonNullable<RescueOrder['stripes']>,
  dueInAll: number,
  rate: FrameRate,
  log: Log,
  progress: ReadProgress,
): RescueResult {
  const [first] = files;
  const lost = files.filter(
    ({ path, identity }) => !existsSync(path) || (identity && whatLiesAt(path, identity) !== 'same'),
  );
  const own = { filePath: first?.path ?? '', identity: first?.identity ?? null, openPath: '', emptyLast: false };
  if (lost.length)
    return {
      ...emptyReading(dueInAll),
      ...own,
      away: true,
      lostUs: framesUs(dueInAll, rate),
      text: `${lost.map(({ path }) => path).join(' and ')} cannot be found: a stripe’s drive or folder is away, or another file lies at its place. Nothing was changed; when it is back, the take is looked for again.`,
    };
  const list = writeStripesList(
    ledgerFolder,
    layout,
    files.map(({ path }) => path),
  );
  const reading = closeLedger({
    folder: ledgerFolder,
    filePath: list,
    interrupted: true,
    dueInAll,
    counts: { presented: null, passedOver: null, notReached: null },
    log,
    progress,
  });
  return {
    ...reading,
    ...own,
    away: false,
    lostUs: framesUs(reading.tailFrames, rate),
    text: reading.facts
      ? 'The recorder stopped before the file was closed; what had reached all its drives is there, up to the first block that is missing.'
      : 'No whole second had reached all drives yet, so there is nothing to play.',
  };
}

function readable(path: string): boolean {
  try {
    return factsOf(path).picture.packets > 0;
  } catch {
    return false;
  }
}

/** Frames that were due between the last second written down and the recorder's last sign of life. */
function dueAfterLastSecond(folder: string, rate: FrameRate): number {
  const changed = (name: string) => statSync(join(folder, name), { throwIfNoEntry: false })?.mtimeMs ?? null;
  const [beatMs, secondMs] = [changed(ledgerNames.heartbeat), changed(ledgerNames.seconds)];
  if (beatMs === null || secondMs === null) return 0;
  return Math.max(0, Math.round(((beatMs - secondMs) * rate.num) / (1000 * rate.den)));
}

function framesUs(frames: number, rate: FrameRate): number {
  return (frames * rate.den * 1e6) / rate.num;
}

function textOf(readable: boolean, container: Recipe['container']): string {
  if (readable)
    return 'The recorder stopped before the file was closed; what had reached the drive was put into a closed file.';
  return container === 'mp4'
    ? 'The file cannot be read: its type keeps the index for the end, and what was written down for it is not enough. The bytes are kept.'
    : 'No whole second had reached the drive yet, so there is nothing to play.';
}

/** What an earlier rescue has put in its place before it was cut off; null where none has. */
function rescuedBefore(ledgerFolder: string): Reservation | null {
  const path = join(ledgerFolder, ledgerNames.rescued);
  if (!existsSync(path)) return null;
  const parsed = rescuedSchema.safeParse(jsonOf(readFileSync(path, 'utf8')));
  return parsed.success && whatLiesAt(parsed.data.path, parsed.data.identity) === 'same' ? parsed.data : null;
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

function lookFor(order: RescueOrder, identity: FileIdentity | null): Found {
  const { filePath, ledgerFolder } = order;
  const before = rescuedBefore(ledgerFolder);
  if (before) return { at: 'here', path: before.path, rescued: before.identity };
  const lies = identity ? whatLiesAt(filePath, identity) : existsSync(filePath) ? 'same' : 'nothing';
  if (lies === 'same') return { at: 'here', path: filePath, rescued: null };
  const kept = join(ledgerFolder, `kept${extname(filePath)}`);
  if (existsSync(kept)) return { at: 'here', path: kept, rescued: null };
  return lies === 'other' ? { at: 'replaced' } : { at: 'away' };
}

/** A closed copy in place of the open file, or in the data folder; the open file itself where neither can be made. */
function closedCopy(
  source: string,
  identity: FileIdentity | null,
  { fallbackFolder, ledgerFolder }: RescueOrder,
  copy: (source: string, to: string) => void,
  { log, progress, journal }: Voice,
): Reservation {
  const own: Reservation = { path: source, identity: identity ?? identityOfPath(source) };
  if (statSync(source).size === 0) return own;
  const makeInto = (target: string, place: () => Reservation): Reservation | null => {
    const temporary = temporaryBeside(target);
    try {
      journal({ step: 'temporary', path: temporary });
      copy(source, temporary);
      syncFile(temporary);
      if (factsOf(temporary, progress).picture.packets === 0) throw new Error('the copy holds no picture');
      const reserved = place();
      const rescued = { path: reserved.path, identity: identityOfPath(temporary) };
      // Reading it back takes as long again: whoever comes after an end meanwhile has to know it.
      writeDurably(join(ledgerFolder, ledgerNames.rescued), JSON.stringify(rescued));
      replaceOwn(temporary, reserved);
      return rescued;
    } catch (error) {
      rmSync(temporary, { force: true });
      log('warn', `No closed copy at ${target}: ${errorText(error)}`);
      return null;
    }
  };
  const far = join(fallbackFolder, basename(source));
  return makeInto(source, () => own) ?? makeInto(far, () => reserveNoted(far, journal)) ?? own;
}

/** How a closed file is made of an open one: a plain MP4 has no index yet, and is built from its packets. */
function copierOf(order: RescueOrder, recipe: Recipe, progress: ReadProgress): (source: string, to: string) => void {
  const [folder, part] = [order.ledgerFolder, order.earlier.length + 1];
  if (recipe.container === 'mp4')
    return (source, to) => rebuildMp4(source, to, { folder, part, recipe }, (bytes) => progress(bytes, null));
  return (source, to) => void copyTracks(source, to, copyOptionsFor(source, recipe.rate, progress));
}

function copyOptionsFor(source: string, rate: FrameRate, progress: ReadProgress): CopyOptions {
  const isMatroska = extname(source) === '.mkv';
  const fragments = { movflags: '+empty_moov+delay_moov+default_base_moof', frag_duration: '1000000' };
  return {
    format: isMatroska ? 'matroska' : 'mp4',
    lanes: null,
    muxer: isMatroska ? { cluster_time_limit: '1000' } : fragments,
    rate,
    progress,
  };
}
