import { randomFillSync } from 'node:crypto';
import { closeSync, constants, fdatasyncSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { isSteady, steadySpeed } from '@mellow/core';
import type { DriveTest } from '@mellow/model';
import type { ReadProgress } from '../reading/readBack';

const blockBytes = 4 << 20;
const pieceS = 0.5;
/** A drive that takes long to become steady is a drive with a large cache; so long is waited for it. */
const leastS = 4;
/** Room that a test leaves free. */
const spareBytes = 256e6;
/** More than FAT32 takes in one file: then another one begins. */
const mostFileBytes = 4e9;
/** A drive of 7 GB/s writes for four seconds until then. More would wear it. */
const mostBytes = 32e9;
/** What direct writes have to lie at in memory, at most; buffers of the runtime lie at multiples of 16. */
const pageBytes = 4096;
const sectorBytes = 512;

interface Target {
  handle: number;
  way: DriveTest['way'];
  block: Buffer;
}

/**
 * Writes fresh incompressible blocks of 4 MB, each flushed to the device before the next, past the system's cache where it
 * offers that, until half seconds are alike, or time or room is over. No place is written twice: that would measure whoever
 * remembers it.
 * @param fileBytes of one file: then the next one begins
 * @throws in words where the folder has no room or cannot be written to
 */
export function testDrive(
  folder: string,
  mostS: number,
  progress: ReadProgress,
  fileBytes: number = mostFileBytes,
): DriveTest {
  const pathOf = (file: number): string => join(folder, `.write-test-${process.pid}-${file}`);
  const room = statfsSync(folder);
  const blocks = Math.floor(Math.min(mostBytes, room.bavail * room.bsize - spareBytes) / blockBytes);
  const fileBlocks = Math.floor(fileBytes / blockBytes);
  if (blocks < 8) throw new Error('There is too little room for a test: 300 MB have to be free.');
  const { handle: firstHandle, way, block } = open(pathOf(0));
  const handles = [firstHandle];
  const trace: number[] = [];
  let longestPauseMs = 0;
  let at = 0;
  let stamp = 0;
  randomFillSync(block);
  const startedMs = performance.now();
  const sinceS = (): number => (performance.now() - startedMs) / 1000;
  try {
    while (at < blocks && sinceS() < mostS && !(sinceS() >= leastS && isSteady(trace))) {
      let bytes = 0;
      let writingMs = 0;
      while (writingMs < pieceS * 1000 && at < blocks) {
        refresh(block, ++stamp);
        const file = Math.floor(at / fileBlocks);
        const handle = (handles[file] ??= openUnnamed(pathOf(file), way));
        const atByte = (at % fileBlocks) * blockBytes;
        const fromMs = performance.now();
        for (let done = 0; done < block.length;)
          done += writeSync(handle, block, done, block.length - done, atByte + done);
        if (way === 'flushed') fdatasyncSync(handle);
        const tookMs = performance.now() - fromMs;
        longestPauseMs = Math.max(longestPauseMs, tookMs);
        writingMs += tookMs;
        bytes += block.length;
        at++;
      }
      trace.push(bytes / (writingMs / 1000));
      progress(Math.min(sinceS(), mostS), mostS);
    }
  } finally {
    handles.forEach((handle, file) => {
      closeSync(handle);
      rmSync(pathOf(file), { force: true });
    });
  }
  return { ...steadySpeed(trace), way, longestPauseMs, seconds: sinceS(), trace };
}

/**
 * Makes a block a new one: a number into each sector, so that no drive finds it again. New random data for each block would
 * take longer than a fast drive does, and leave it idle meanwhile.
 */
function refresh(block: Buffer, stamp: number): void {
  for (let at = 0; at < block.length; at += sectorBytes) block.writeUInt32LE((stamp * 2_654_435_761 + at) >>> 0, at);
}

/** Past the cache where system and drive take that; otherwise each block is flushed after it. */
function open(path: string): Target {
  if (constants.O_DIRECT !== undefined) {
    try {
      const handle = openUnnamed(path, 'direct');
      const block = alignedBlock(handle);
      if (block) return { handle, way: 'direct', block };
      closeSync(handle);
    } catch {
      // This drive's file system does not know it.
    }
    rmSync(path, { force: true });
  }
  return { handle: openUnnamed(path, 'flushed'), way: 'flushed', block: Buffer.allocUnsafeSlow(blockBytes) };
}

/** A file without a name: a test that is killed leaves nothing on the drive. */
function openUnnamed(path: string, way: DriveTest['way']): number {
  const { O_CREAT, O_RDWR, O_EXCL } = constants;
  const { O_DIRECT = 0, O_DSYNC = 0 }: Partial<typeof constants> = constants;
  const handle = openSync(path, O_CREAT | O_RDWR | O_EXCL | (way === 'direct' ? O_DIRECT | O_DSYNC : 0), 0o600);
  try {
    rmSync(path);
  } catch {
    // Not while it is open, says this system: it goes at the end.
  }
  return handle;
}

/** A block of memory that direct writes take: where it begins cannot be asked for, so it is tried. */
function alignedBlock(handle: number): Buffer | null {
  const memory = Buffer.allocUnsafeSlow(blockBytes + pageBytes);
  for (let offset = 0; offset < pageBytes; offset += 16) {
    const block = memory.subarray(offset, offset + blockBytes);
    try {
      writeSync(handle, block, 0, pageBytes, 0);
      return block;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EINVAL') throw error;
    }
  }
  return null;
}
