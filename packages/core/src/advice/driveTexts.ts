import type { DriveFacts } from '@mellow/model';
import type { Overload } from '../forecast';
import { formatBytes, formatMegabytesPerSecond, formatPercent, formatSeconds, listWords } from '../units';
import { sessionBytes } from '../storage';

/** What the rules of driveRules.ts say. */
export const driveTexts = {
  noDrive: {
    title: 'The drive of this recipe is not on the list',
    text: 'It was taken off, or it belongs to another machine.',
  },
  driveTrouble: (name: string, problem: string) => ({
    title: `${name} cannot be used now`,
    text: problem,
  }),
  driveTooSlow: ({
    name,
    availableBytesPerSecond,
    neededBytesPerSecond,
    headRoom,
    contention,
    overload,
  }: {
    name: string;
    availableBytesPerSecond: number;
    neededBytesPerSecond: number;
    headRoom: number;
    contention: number;
    overload: Overload | null;
  }) => ({
    title: `${name} writes ${formatMegabytesPerSecond(availableBytesPerSecond)}, ${formatMegabytesPerSecond(neededBytesPerSecond)} are needed`,
    text: `${overload ? `Bytes pile up: after ${formatSeconds(overload.untilFullS)} nothing more may wait, and about ${formatPercent(overload.lostShare)} of the frames are refused before Encode, so that none is torn out of the middle.` : headRoom < 1 ? 'Bytes may pile up in busy passages.' : 'Busy passages write half as much again.'}${contention > 1 ? ' The game’s reading is counted in.' : ''}`,
  }),
  sameDriveAsGame: (name: string, kind: DriveFacts['kind']) => ({
    title: `The game reads from ${name} too`,
    text:
      kind === 'hard disk'
        ? 'One head serves both: game and file suffer. Two partitions of one drive do not help.'
        : 'A solid-state drive serves both, but loading passages may be written late.',
  }),
  gameDriveUnknown: (share: number) => ({
    title: 'Where the game reads from is not known',
    text: `On the same physical drive as the takes both suffer; ${formatPercent(share)} of the speed are taken off as an assumption.`,
  }),
  partition: (name: string, gameName: string) => ({
    title: `${name} and ${gameName} are one physical drive`,
    text: 'Two folders or partitions, one head and one queue.',
  }),
  driveNotMeasured: (name: string, bytesPerSecond: number) => ({
    title: `How fast ${name} writes is not known`,
    text: `${formatMegabytesPerSecond(bytesPerSecond)} are needed. The forecast lets the drive decide nothing until it was measured.`,
  }),
  networkDrive: (name: string) => ({
    title: `${name} is reached over a network`,
    text: 'Its pauses come without warning, and each second of one fills memory.',
  }),
  hardDiskHeavy: (bytesPerSecond: number, writeBytesPerSecond: number | null) => ({
    title: `${formatMegabytesPerSecond(bytesPerSecond)} on a hard disk`,
    text:
      writeBytesPerSecond === null
        ? 'This one was not measured yet, and a disc is slowest on its inner tracks: measure it, on Path under Drive.'
        : `${formatMegabytesPerSecond(writeBytesPerSecond)} were measured where it is now; on its inner tracks a disc gives about half.`,
  }),
  roomShort: ({
    sessionMinutes,
    name,
    bytesPerSecond,
    rewrap,
    freeBytes,
    roomMinutes,
  }: {
    sessionMinutes: number;
    name: string;
    bytesPerSecond: number;
    rewrap: boolean;
    freeBytes: number;
    roomMinutes: number;
  }) => ({
    title: `A session of ${sessionMinutes} min does not fit on ${name}`,
    text: `It needs ${formatBytes(sessionBytes(bytesPerSecond, sessionMinutes, rewrap))}${rewrap ? ' with the MP4 beside it' : ''}; ${formatBytes(freeBytes)} are free: ${Math.floor(roomMinutes)} min.`,
  }),
  striping: ({
    names,
    equal,
    bySpeed,
    neededBytesPerSecond,
  }: {
    names: string[];
    equal: number;
    bySpeed: number;
    neededBytesPerSecond: number;
  }) => ({
    title: `No single drive is fast enough; ${listWords(names)} together would be`,
    text: `In equal shares ${formatMegabytesPerSecond(equal)}, by speed ${formatMegabytesPerSecond(bySpeed)}, ${formatMegabytesPerSecond(neededBytesPerSecond)} are needed. A striped take is written to all of them at once, block by block, and put together afterwards.`,
  }),
  ceilingUnderSession: (ceiling: number, sessionMinutes: number) => ({
    title: `A take ends after ${ceiling} min, a session lasts ${sessionMinutes}`,
    text: 'What comes after is not recorded.',
  }),
  forgottenTake: (roomMinutes: number) => ({
    title: `A forgotten take fills the drive in ${roomMinutes < 120 ? `${Math.floor(roomMinutes)} min` : `${Math.floor(roomMinutes / 60)} h`}`,
    text: 'A ceiling ends it by itself. Some never want one.',
  }),
  fileLimit: ({ name, limitBytes, minutes }: { name: string; limitBytes: number; minutes: number }) => ({
    title: `A file on ${name} ends at ${formatBytes(limitBytes)}: after ${Math.floor(minutes)} min`,
    text: 'Its file system (FAT32) keeps no larger file. A take that comes so far is closed there and ends.',
  }),
  otherFileSystem: 'Move what is on the drive, and format it as exFAT or with the system’s own file system.',
  siteSize: (heightPx: number) => ({
    title: `Sites encode ${heightPx} lines again, with fewer bits than they give larger pictures`,
    text: 'Many give 1440 lines more bits for each pixel (common practice). Recording more is not needed for that.',
  }),
  enlargeAtTheEnd: 'Have the editor write 1440 lines for the upload, from this footage.',
  longUpload: ({
    minutes,
    bytesPerSecond,
    sessionMinutes,
    uploadMbps,
  }: {
    minutes: number;
    bytesPerSecond: number;
    sessionMinutes: number;
    uploadMbps: number;
  }) => ({
    title: `A session is ${(minutes / 60).toFixed(1)} h on the line`,
    text: `${formatBytes(bytesPerSecond * 60 * sessionMinutes)} at ${uploadMbps} Mb/s. Size has two prices: room and waiting.`,
  }),
};
