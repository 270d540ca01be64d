import { Packet } from 'node-av/lib';
import { dueUs, sampleRateHz, soundChannels } from '@mellow/core';
import type { SoundSource } from '@mellow/model';
import { addSound, warmUpUs } from '@mellow/practice';
import { openFileWriter, type FileWriter } from '../media/fileWriter';
import { openLaneEncoder } from '../media/laneEncoder';
import { openControl } from '../shared/control';
import { openLedgerRing, rowStates } from '../shared/ledgerRing';
import { openRingReader, openRingWriter } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { fileKinds, packetKinds } from './queueKinds';
import { scriptedAt } from './script';

const ENOSPC = 28;
const EIO = 5;
/** Sound is written so long after its time when no picture comes, so that a lane never stops. */
const soundPatienceUs = 500_000;
const soundStep = 1024;

/** Joins pictures and lanes in one file and hands its bytes to the drive thread. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const ledger = openLedgerRing(memory.ledger);
  const packets = openRingReader(memory.packets);
  const fileBytes = openRingWriter(memory.fileBytes);
  const times = openSampleLog(memory.stationTimes.pack);
  const sourceTimes = openSampleLog(memory.stationTimes.soundSource);
  const peaks = new Float64Array(memory.lanePeaks);
  const { recipe } = order;
  const lanes = recipe.lanes.map((lane) => ({ lane, encoder: openLaneEncoder(lane) }));
  const packet = new Packet();
  packet.alloc();
  const waiting: { n: number; end: number }[] = [];
  let writer: FileWriter | null = null;
  let samplesDone = 0;
  let broken = 0;
  let busyUs = 0;
  let lastPosition = 0;
  let packetsSeen = 0;
  tell({ type: 'ready', threadId: ownThreadId() });

  for (let ended = false; !ended;) {
    const message = packets.next(20_000);
    if (!message) {
      if (control.get('failed')) ended = true;
      if (order.clock === 'real' && control.get('ready') && writer) {
        const sinceUs = nowUs() - control.figure('dueZeroUs') - soundPatienceUs;
        if (control.get('stop') === 0) produceSound(Math.min(sinceUs, dueUs(recipe.rate, order.dueFrames)));
      }
      markWritten();
      continue;
    }
    const [kind, n, decodeIndex, key] = message.fields;
    if (kind === packetKinds.packet) takePicture(n, decodeIndex, key === 1, message.payload);
    else if (kind === packetKinds.end) ended = true;
    else
      writer = openFileWriter(recipe, message.payload.length ? message.payload.slice() : null, lanes, {
        write: handOn,
      });
    packets.done();
    markWritten();
  }
  finish();

  function takePicture(n: number, decodeIndex: number, key: boolean, data: Uint8Array): void {
    produceSound(dueUs(recipe.rate, Math.max(0, decodeIndex)));
    const startedAt = nowUs();
    if (writer && !broken && !scriptedAt(order.script, 'pack-omits', n)) {
      packet.unref();
      packet.data = Buffer.from(data);
      packet.pts = BigInt(n);
      packet.dts = BigInt(decodeIndex);
      packet.isKeyframe = key;
      check(writer.writePicture(packet, 1));
      packetsSeen++;
      control.setFigure('filedPackets', packetsSeen);
    }
    waiting.push({ n, end: -1 });
    noteHandedOut(1);
    busyUs += nowUs() - startedAt;
    times.add(busyUs / 1000);
    busyUs = 0;
  }

  /** Packets that came before the last one are in the bytes handed out whenever their number grew. */
  function noteHandedOut(keepLast: number): void {
    const position = writer?.position() ?? 0;
    if (position === lastPosition) return;
    lastPosition = position;
    for (let i = waiting.length - 1 - keepLast; i >= 0; i--) {
      const entry = waiting[i];
      if (!entry || entry.end >= 0) break;
      entry.end = position;
    }
  }

  function markWritten(): void {
    const reached = control.figure('drivePosition');
    while (waiting.length) {
      const entry = waiting[0];
      if (!entry || entry.end < 0 || entry.end > reached) return;
      if (order.clock === 'real')
        ledger.set(
          entry.n,
          'written',
          control.figure('lastWriteUs') - control.figure('dueZeroUs') - dueUs(recipe.rate, entry.n),
        );
      ledger.setState(entry.n, rowStates.written);
      waiting.shift();
    }
  }

  function produceSound(untilUs: number): void {
    if (!writer || !lanes.length) return;
    const until = Math.floor((untilUs * sampleRateHz) / 1e6);
    while (samplesDone + soundStep <= until) soundPiece(soundStep);
  }

  function soundPiece(count: number): void {
    const first = samplesDone + (warmUpUs / 1e6) * sampleRateHz;
    const renderedFrom = nowUs();
    const rendered = new Map<SoundSource, Float32Array>();
    for (const source of new Set(lanes.flatMap(({ lane }) => lane.sources))) {
      const samples = new Float32Array(count * soundChannels);
      addSound(samples, source, first, order.game.strip);
      rendered.set(source, samples);
    }
    const startedAt = nowUs();
    sourceTimes.add((startedAt - renderedFrom) / 1000);
    lanes.forEach(({ lane, encoder }, i) => {
      const mix = new Float32Array(count * soundChannels);
      for (const source of lane.sources)
        rendered.get(source)?.forEach((value, at) => (mix[at] = (mix[at] ?? 0) + value));
      let peak = 0;
      for (const value of mix) peak = Math.max(peak, Math.abs(value));
      peaks[i] = Math.max(peaks[i] ?? 0, peak);
      encoder.add(mix, (sound) => check(writer && !broken ? writer.writeSound(i, sound) : 0));
    });
    busyUs += nowUs() - startedAt;
    samplesDone += count;
  }

  function check(code: number): void {
    if (code < 0 && !broken) {
      broken = code;
      if (control.get('driveError') === 0) {
        tell({ type: 'log', level: 'error', text: `The container refused a packet: error ${code}.` });
        control.requestStop('error');
      }
    }
  }

  /** Bytes for the drive thread, in pieces that fit its ring; the drive's first error comes back here. */
  function handOn(position: number, bytes: Uint8Array): number {
    const piece = 1 << 20;
    for (let at = 0; at < bytes.length; at += piece) {
      const error = control.get('driveError');
      if (error) return -error;
      const part = bytes.subarray(at, at + piece);
      control.setFigure('handedBytes', control.figure('handedBytes') + part.length);
      while (!fileBytes.push([fileKinds.bytes, position + at, 0, 0, 0], part, 1e6)) {
        if (control.get('driveError') || control.get('failed')) return -(control.get('driveError') || EIO);
      }
    }
    return 0;
  }

  function finish(): void {
    const endUs = control.figure('endUs');
    if (writer && !broken) {
      produceSound(endUs);
      const rest = Math.round((endUs * sampleRateHz) / 1e6) - samplesDone;
      if (lanes.length && rest > 0) soundPiece(rest);
      lanes.forEach(({ encoder }, i) =>
        encoder.flush((sound) => check(writer && !broken ? writer.writeSound(i, sound) : 0)),
      );
      if (!broken) check(writer.close());
    }
    for (const entry of waiting) if (entry.end < 0 && !broken) entry.end = writer?.position() ?? 0;
    fileBytes.push([fileKinds.end, 0, 0, 0, 0], null, 60e6);
    control.set('packDone', 1);
    while (control.get('driveDone') === 0 && control.get('failed') === 0) control.wait('driveDone', 0, 1e6);
    markWritten();
    writer?.free();
    packet.free();
    for (const { encoder } of lanes) encoder.free();
    if (broken && control.get('driveError') === ENOSPC)
      tell({ type: 'log', level: 'warn', text: 'The drive was full before the file could be closed.' });
    tell({ type: 'done' });
  }
});
