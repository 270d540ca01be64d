import { join } from 'node:path';
import { ascending, errorText, gameRunOfTurns, percentileOfSorted } from '@mellow/core';
import type { GameRun, PartFile, TakeClosing, TakeEnd } from '@mellow/model';
import { cameraReport } from '../camera/cameraReport';
import { writeDurably } from '../files/durable';
import { identityOfPath } from '../files/identity';
import { ledgerNames } from '../files/ledgerNames';
import { openSampleLog } from '../shared/sampleLog';
import { endOf, endTexts, nothingRecorded } from './takeTexts';
import type { GamePiece, TakeRecord } from './takeState';

/**
 * What the recorder says of a take whose files are closed, also stored beside its ledger.
 * @param path where its last file lies
 * @param earlier turns of the game before this one
 */
export function closeTake(
  take: TakeRecord,
  path: string,
  wallUs: number,
  memoryBytes: number[],
  earlier: readonly GamePiece[],
): TakeClosing {
  const { order, control, parts } = take;
  const pieces = take.piece ? [...earlier, take.piece] : [];
  const together = (side: keyof GamePiece): GameRun | null =>
    pieces.length ? gameRunOfTurns(pieces.map((one) => one[side])) : null;
  const end: TakeEnd = take.failure ? 'error' : endOf[control.reason()];
  const nothing = control.get('dueIssued') === 0 ? nothingRecorded : null;
  const closed = order.unfiled ? take.failure === null : control.get('containerClosed') === 1;
  const closing: TakeClosing = {
    takeId: order.takeId,
    end,
    endText: take.failure ?? endTexts[end] ?? nothing,
    filePath: parts.length > 1 ? order.filePath : path,
    movedIdentity: parts.length > 1 || path === order.filePath ? null : identityOfPath(path),
    keptStripes: take.keptStripes,
    parts: parts.length > 1 ? partsEndingWith(parts, path) : [],
    closedWell: control.get('driveError') === 0 && closed,
    presented: control.get('presented'),
    passedOver: control.get('passedOver'),
    notReached: control.get('notReached'),
    baseline: together('without'),
    recorded: together('with'),
    pairs: pieces.length,
    wallUs,
    memoryBytes,
    latenessUs: latenessOf(take),
    silenceSamples: Array.from(new Float64Array(take.memory.silence).slice(0, order.recipe.lanes.length)),
    sounds: take.sounds.reports(),
    camera: cameraReport(order, control),
    cuts: take.clock.cuts(),
    sampleLeftOut: control.get('sampleLeftOut'),
  };
  try {
    writeDurably(join(order.ledgerFolder, ledgerNames.closing), JSON.stringify(closing));
  } catch (error) {
    // The server is told by message too; only a start after both have died would miss it, and rescues then.
    take.lines.log('warn', `What the recorder says of the take could not be stored: ${errorText(error)}`);
  }
  return closing;
}

function latenessOf({ memory }: TakeRecord): TakeClosing['latenessUs'] {
  const lateness = ascending(openSampleLog(memory.lateness).since(0).values);
  if (!lateness.length) return null;
  return {
    median: percentileOfSorted(lateness, 0.5),
    p95: percentileOfSorted(lateness, 0.95),
    worst: lateness[lateness.length - 1] ?? 0,
  };
}

/** The last file may lie elsewhere than it was begun, where its drive is gone. */
function partsEndingWith(parts: readonly PartFile[], path: string): PartFile[] {
  const last = parts.at(-1);
  if (!last || last.path === path) return [...parts];
  return [...parts.slice(0, -1), { path, identity: identityOfPath(path), startUs: last.startUs }];
}
