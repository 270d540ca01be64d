import { basename, extname, join } from 'node:path';
import { dueUs, errorText } from '@mellow/core';
import type { PartFile, TakeOrder } from '@mellow/model';
import { writeDurably } from '../files/durable';
import { openGrowingFile, type GrowingFile } from '../files/growingFile';
import { reserveFile } from '../files/reserve';
import { holdReserve, type HeldRoom } from '../files/reserveRoom';
import { deviceOf, freeBytes } from '../files/freeRoom';
import { ledgerNames } from '../files/ledgerNames';

/** A folder that parts go to, with what its drive allows. */
export interface PartPlace {
  driveFolder: string;
  quotaBytes: number | null;
  largestFileBytes: number | null;
}

/** The file that is being written, and the ones that come after it. */
export interface DriveParts {
  file(): GrowingFile;
  place(): PartPlace;
  reserve(): HeldRoom | null;
  /** Free bytes where the file lies, less what its quota has used; null where nobody knows. */
  left(): number | null;
  /** Room in the folders that take over afterwards. */
  leftElsewhere(): number;
  /** Another folder could take over. */
  hasNext(): boolean;
  /** Begins the next file: in the next folder with room where `elsewhere`, otherwise beside. @returns what was begun */
  turn(firstDue: number, elsewhere: boolean): PartFile;
}

/** A place as it was when the take began. */
type NextPlace = PartPlace & { device: number | null };

type Log = (text: string) => void;

const leastRoomBytes = 16e6;

export function openDriveParts(order: TakeOrder, log: Log): DriveParts {
  const { filePath, identity, recipe } = order;
  const begun: PartFile[] = [{ path: filePath, identity, startUs: 0 }];
  const stem = basename(filePath, extname(filePath));
  let file = openGrowingFile({ path: filePath, identity });
  let folder = join(filePath, '..');
  let place: PartPlace = order;
  let usedBefore = 0;
  // What is unplugged meanwhile may leave its folder on another file system, where nobody wanted the footage.
  let next = (order.parts?.next ?? []).map((one) => ({ ...one, device: deviceOf(one.driveFolder) }));
  let reserve = hold(order.reservePath);

  function hold(path: string | null): HeldRoom | null {
    const held = path === null ? null : holdReserve(path, order.reserveBytes);
    if (held?.trouble) log(`No room could be kept back: ${held.trouble}`);
    return held;
  }

  function roomIn({ driveFolder, quotaBytes, device }: NextPlace): number {
    if (device === null || deviceOf(driveFolder) !== device) return 0;
    return Math.max(0, (quotaBytes ?? freeBytes(driveFolder) ?? 0) - order.reserveBytes);
  }

  /** Where the data folder is full, the footage's drive still has room: the server was told of the part, too. */
  function noteBegun(): void {
    try {
      writeDurably(join(order.ledgerFolder, ledgerNames.parts), JSON.stringify(begun));
    } catch (error) {
      log(`Which parts the take has cannot be written down (${errorText(error)}); it goes on.`);
    }
  }

  /** A few seconds of footage have to fit, or nothing is won. */
  const hasRoom = (one: NextPlace): boolean => roomIn(one) >= Math.max(order.reserveBytes, leastRoomBytes);

  /** The first of the next folders that can be written to and has room. */
  function moveOn(): void {
    while (next[0]) {
      const [taken, ...rest] = next;
      next = rest;
      if (!hasRoom(taken)) {
        log(`${taken.driveFolder} has no room either, or is gone, and was passed over.`);
        continue;
      }
      reserve?.giveUp();
      [folder, place, usedBefore] = [taken.folder, taken, 0];
      reserve = hold(taken.reservePath);
      return;
    }
  }

  function reserveNext(): PartFile {
    const name = `${stem} part ${begun.length + 1}${extname(filePath)}`;
    for (;;)
      try {
        return { ...reserveFile(join(folder, name)), startUs: 0 };
      } catch (error) {
        if (!next.length) throw error;
        log(`${folder} takes no file: ${errorText(error)}`);
        moveOn();
      }
  }

  return {
    file: () => file,
    place: () => place,
    reserve: () => reserve,
    left() {
      if (place.quotaBytes === null) return freeBytes(place.driveFolder);
      return place.quotaBytes - usedBefore - file.end();
    },
    leftElsewhere() {
      // Folders on one file system have its room once.
      const counted = new Set([deviceOf(place.driveFolder)]);
      return next.reduce((sum, one) => {
        const device = one.quotaBytes === null ? deviceOf(one.driveFolder) : null;
        if (device !== null && counted.has(device)) return sum;
        counted.add(device);
        return sum + roomIn(one);
      }, 0);
    },
    hasNext: () => next.some(hasRoom),
    turn(firstDue, elsewhere) {
      const ended = file;
      ended.sync();
      usedBefore += ended.end();
      if (elsewhere) moveOn();
      const part = { ...reserveNext(), startUs: dueUs(recipe.rate, firstDue) };
      begun.push(part);
      // Whatever dies from here on, the next start knows of the file.
      noteBegun();
      file = openGrowingFile(part);
      // Not before: where no other file can be begun, this one is still there to be looked after.
      ended.close();
      return part;
    },
  };
}
