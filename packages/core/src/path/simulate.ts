import { causeCode, fateCode } from '@mellow/model';
import { createColumns, decideFate, NEVER, repeatCause, type LedgerColumns } from '../ledger';
import { dueUs, periodUs } from '../units';
import { normalStream, streamSeed, workFactors } from './draws';
import { createDriveQueue } from './driveQueue';
import { createGameLoop, encodeJob, gameJob, helperJob, othersJob, processorJobs } from './gameLoop';
import { gameStartUs, sceneAt, sizeQueueFrames, type PathParameters } from './parameters';
import { createSharedResource } from './shared';

/** One simulated run of a path: a ledger like a measured one, and what the stations were busy with. */
export interface PathRun {
  columns: LedgerColumns;
  /** When each of the game's frames was presented, microseconds after due 0. */
  presentsUs: Float64Array;
  /** Work of each due at Size and Encode, microseconds of one core or of the block; 0 where it never came there. */
  sizeWorkUs: Float64Array;
  encodeWorkUs: Float64Array;
  bytesQueuedPeak: number;
  driveBusyUs: number;
  /** Processor microseconds that game and recorder received. */
  gameProcessorUs: number;
  recorderProcessorUs: number;
  endUs: number;
  /** Events that were handled. */
  events: number;
}

const grabJob = 1;
const sizeJob = 2;
const newCode = fateCode('new');
const repeatCode = fateCode('repeat');
const captureMissCode = fateCode('capture-miss');
/** Frames still under way at the end are followed so long. */
const tailUs = 30e6;

/** Simulates a path event by event (docs/model.md, "Simulation"). The same parameters give the same run. */
export function simulatePath(p: PathParameters): PathRun {
  const { rate, dueFrames } = p;
  const period = periodUs(rate);
  const endUs = dueUs(rate, dueFrames);
  const columns = createColumns(dueFrames);
  const processor = createSharedResource(p.cores, processorJobs);
  const game = createGameLoop(p, endUs, processor, true);
  const drive = createDriveQueue(p, endUs);
  const wake = normalStream(streamSeed(p.seed, 'wake'));
  const encodeFactors = workFactors(streamSeed(p.seed, 'encode'), dueFrames, p.encode.work.cv, p.encode.work.phi);
  const sizeWorkUs = new Float64Array(dueFrames);
  const encodeWorkUs = new Float64Array(dueFrames);
  const bytes = bytesOf(p);
  if (p.othersCores > 0) processor.start(othersJob, Infinity, p.othersCores, Math.max(1, p.othersCores));

  let now = gameStartUs;
  let nextDue = 0;
  let dueAt = 0;
  let wakeAt = wakeLateness();
  let lastFiled = -1;
  let grabbing = -1;
  let grabStartUs = 0;
  const sizeQueue: number[] = [];
  let sizing = -1;
  let sizedWaits = -1;
  const encodeQueue: number[] = [];
  let encoding = -1;
  let blockEndUs = Infinity;
  const held: number[] = [];
  let packFreeUs = 0;
  let clusterBytes = 0;
  let clusterStartUs = 0;
  let cluster: number[] = [];
  let queuedPeak = 0;
  const accepted: { n: number; frame: number }[] = [];

  let events = 0;
  while (
    nextDue < dueFrames ||
    grabbing >= 0 ||
    sizing >= 0 ||
    sizedWaits >= 0 ||
    encoding >= 0 ||
    sizeQueue.length ||
    encodeQueue.length
  ) {
    if (now > endUs + tailUs) break;
    events++;
    const byProcessor = now + processor.untilNext();
    const own = game.nextUs();
    const due = nextDue < dueFrames && grabbing < 0 ? Math.max(now, wakeAt) : Infinity;
    const next = Math.min(byProcessor, own, due, blockEndUs);
    if (next === Infinity) break;
    processor.advance(Math.max(0, next - now));
    now = next;
    if (own <= next) game.step(now);
    else if (blockEndUs <= next) encodeDone();
    else if (byProcessor <= next) processorDone(processor.nextJob());
    else decideDue();
  }
  for (const n of held.splice(0)) leaveEncoder(n, now);
  followNoFurther();
  closeCluster(now);
  resolveRepeats();
  return {
    columns,
    sizeWorkUs,
    encodeWorkUs,
    bytesQueuedPeak: queuedPeak,
    driveBusyUs: drive.busyUs(),
    endUs,
    events,
    presentsUs: game.presentsUs(),
    gameProcessorUs: processor.received(gameJob) + processor.received(helperJob),
    recorderProcessorUs: processor.received(grabJob) + processor.received(sizeJob) + processor.received(encodeJob),
  };

  /** What is still under way when nobody follows it any longer, behind a station that is hopelessly late, ends here. */
  function followNoFurther(): void {
    const waiting = [encoding, ...encodeQueue, sizedWaits, sizing, ...sizeQueue].filter((n) => n >= 0);
    for (const n of waiting.sort((a, b) => a - b)) {
      const at = Math.round(now - columns.dueUs[n]!);
      if (columns.sized[n] === NEVER) columns.sized[n] = at;
      if (columns.encodeIn[n] === NEVER) columns.encodeIn[n] = at;
      leaveEncoder(n, now);
    }
  }

  function wakeLateness(): number {
    return p.capture.wakeMedianUs > 0 ? p.capture.wakeMedianUs * Math.exp(p.capture.wakeSigma * wake()) : 0;
  }

  function toNextDue(): void {
    nextDue++;
    dueAt = dueUs(rate, nextDue);
    wakeAt = dueAt + wakeLateness();
  }

  function decideDue(): void {
    const n = nextDue;
    columns.dueUs[n] = dueAt;
    const bytesWaiting = drive.waitingBytes(now);
    if (bytesWaiting > queuedPeak) queuedPeak = bytesWaiting;
    const waits = encodeQueue.length + (encoding >= 0 ? 1 : 0);
    const newest = game.presented() - 1;
    columns.picked[n] = Math.round(now - dueAt);
    const decision = decideFate({
      wokeAfterNextDue: now >= dueUs(rate, n + 1),
      bytesWaiting,
      waitingLimitBytes: p.drive.waitingLimitBytes,
      sinceLastWriteUs: drive.sinceLastWriteUs(now),
      unwritten: { us: drive.oldestUs(now), waitsFor: 'drive' },
      room:
        waits >= p.encode.queueFrames
          ? 'encode-queue-full'
          : p.size && sizeQueue.length + (sizing >= 0 || sizedWaits >= 0 ? 1 : 0) >= sizeQueueFrames
            ? 'size-busy'
            : 'yes',
      grab: 'ok',
      newestFrame: newest < 0 ? null : newest,
      lastFiledFrame: lastFiled < 0 ? null : lastFiled,
    });
    if (decision.fate === 'new') {
      columns.source[n] = Math.round(game.presentUs(newest) - dueAt);
      columns.sourceFrame[n] = newest;
      grabbing = n;
      grabStartUs = now;
      if (p.capture.grabUs > 0) processor.start(grabJob, p.capture.grabUs, 1, 1);
      else grabDone();
      return;
    }
    columns.fate[n] = fateCode(decision.fate);
    if (decision.fate === 'repeat') {
      columns.sourceFrame[n] = lastFiled;
      columns.source[n] = Math.round(game.presentUs(lastFiled) - dueAt);
      columns.captured[n] = Math.round(now - dueAt);
      handOn(n);
    } else {
      columns.cause[n] = causeCode(decision.cause);
    }
    toNextDue();
  }

  function grabDone(): void {
    const n = grabbing;
    grabbing = -1;
    processor.stop(grabJob);
    if (now - grabStartUs > period) {
      columns.fate[n] = captureMissCode;
      columns.cause[n] = causeCode('grab-late');
      columns.source[n] = NEVER;
      columns.sourceFrame[n] = NEVER;
    } else {
      columns.fate[n] = newCode;
      lastFiled = columns.sourceFrame[n]!;
      accepted.push({ n, frame: lastFiled });
      columns.captured[n] = Math.round(now - columns.dueUs[n]!);
      handOn(n);
    }
    toNextDue();
  }

  function handOn(n: number): void {
    if (!p.size) {
      columns.sized[n] = Math.round(now - columns.dueUs[n]!);
      encodeQueue.push(n);
      startEncode();
      return;
    }
    sizeQueue.push(n);
    startSize();
  }

  function startSize(): void {
    if (sizing >= 0 || sizedWaits >= 0 || !p.size) return;
    const n = sizeQueue.shift();
    if (n === undefined) return;
    sizing = n;
    // A repeat keeps the scaled picture.
    const work = columns.fate[n] === repeatCode ? 1 : p.size.meanUs;
    sizeWorkUs[n] = work;
    processor.start(sizeJob, work, 1, 1);
  }

  function sizeDone(): void {
    processor.stop(sizeJob);
    sizedWaits = sizing;
    sizing = -1;
    leaveSize();
  }

  function leaveSize(): void {
    if (sizedWaits >= 0 && encodeQueue.length + (encoding >= 0 ? 1 : 0) < p.encode.queueFrames) {
      columns.sized[sizedWaits] = Math.round(now - columns.dueUs[sizedWaits]!);
      encodeQueue.push(sizedWaits);
      sizedWaits = -1;
      startEncode();
    }
    startSize();
  }

  function startEncode(): void {
    if (encoding >= 0) return;
    const n = encodeQueue.shift();
    if (n === undefined) return;
    encoding = n;
    const scene = sceneAt(p.scenes, columns.dueUs[n]!)?.encodeFactor ?? 1;
    const repeat = columns.fate[n] === repeatCode ? p.encode.repeatShare : 1;
    const work = p.encode.work.each
      ? p.encode.work.each[n]!
      : p.encode.work.meanUs * encodeFactors[n]! * scene * repeat;
    encodeWorkUs[n] = work;
    columns.encodeIn[n] = Math.round(now - columns.dueUs[n]!);
    if (p.encode.parallelism === null) {
      blockEndUs = now + work;
    } else {
      processor.start(encodeJob, work, p.encode.parallelism, p.encode.weight);
    }
  }

  function encodeDone(): void {
    const n = encoding;
    encoding = -1;
    if (p.encode.parallelism === null) {
      blockEndUs = Infinity;
    } else processor.stop(encodeJob);
    held.push(n);
    if (held.length > p.encode.heldFrames) leaveEncoder(held.shift()!, now);
    startEncode();
    leaveSize();
  }

  function leaveEncoder(n: number, atUs: number): void {
    columns.encodeOut[n] = Math.round(atUs - columns.dueUs[n]!);
    columns.bytes[n] = bytes[n]!;
    packFreeUs = Math.max(packFreeUs, atUs) + p.packUs;
    if (packFreeUs - clusterStartUs >= 1e6) closeCluster(packFreeUs);
    cluster.push(n);
    clusterBytes += bytes[n]!;
  }

  function closeCluster(atUs: number): void {
    const sound = (p.soundBytesPerSecond * Math.max(0, atUs - clusterStartUs)) / 1e6;
    if (cluster.length) {
      const writtenUs = drive.handOver(atUs, clusterBytes + sound);
      for (const n of cluster) columns.written[n] = Math.round(writtenUs - columns.dueUs[n]!);
    }
    cluster = [];
    clusterBytes = 0;
    clusterStartUs = atUs;
  }

  function processorDone(job: number): void {
    if (job === gameJob || job === helperJob) game.processorDone(now, job);
    else if (job === grabJob) grabDone();
    else if (job === sizeJob) sizeDone();
    else if (job === encodeJob) encodeDone();
  }

  function resolveRepeats(): void {
    for (let n = 0; n < dueFrames; n++) {
      if (columns.fate[n] !== repeatCode) continue;
      const frame = columns.sourceFrame[n]!;
      const cause = repeatCause({
        dueUs: columns.dueUs[n]!,
        periodUs: period,
        previousPresentUs: game.presentUs(frame),
        nextPresentUs: frame + 1 < game.presented() ? game.presentUs(frame + 1) : null,
        endUs,
        reportsOnlyChanges: false,
      });
      columns.cause[n] = causeCode(cause);
    }
  }
}

/** Bytes of each due's picture: given, or drawn with key pictures larger by their factor and the mean kept. */
function bytesOf(p: PathParameters): Int32Array {
  if ('each' in p.bytes) return p.bytes.each;
  const { mean, cv, keyDistance, keyFactor } = p.bytes;
  const factors = workFactors(streamSeed(p.seed, 'bytes'), p.dueFrames, cv, 0.9);
  const other = mean / (1 + (keyFactor - 1) / keyDistance);
  const each = new Int32Array(p.dueFrames);
  for (let n = 0; n < each.length; n++)
    each[n] = Math.round(factors[n]! * (n % keyDistance === 0 ? other * keyFactor : other));
  return each;
}
