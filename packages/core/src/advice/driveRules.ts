import type { Recipe, DriveFacts } from '@mellow/model';
import { longestMinutes, sessionBytes, sharedWithGame, speedCheck, stripe, uploadMinutes } from '../storage';
import { formatBytes, formatMegabytesPerSecond, listWords } from '../units';
import type { Look, Rule } from './rule';

const bytesPerSecond = (look: Look): number => look.forecast.bits.value / 8;
const toDrive = (look: Look, drive: DriveFacts): { label: string; change: Recipe } => ({
  label: `Use ${drive.name}`,
  change: { ...look.recipe, driveId: drive.id },
});
const shared = (look: Look, drive: DriveFacts): boolean | null =>
  sharedWithGame(drive, look.game.facts.driveId, look.context.drives);
const enoughRoom = (look: Look, drive: DriveFacts): boolean =>
  drive.freeBytes !== null &&
  longestMinutes(drive.freeBytes, bytesPerSecond(look), look.recipe.rewrap) >= look.brief.sessionMinutes;
const headRoomOf = (look: Look, drive: DriveFacts): number | null =>
  speedCheck(drive, bytesPerSecond(look), shared(look, drive)).headRoom;
/** Other drives that work, best first by head-room. */
const others = (look: Look): DriveFacts[] =>
  look.context.drives
    .filter((d) => d.id !== look.drive?.id && d.problem === null && d.freeBytes !== null)
    .toSorted((a, b) => (headRoomOf(look, b) ?? 0) - (headRoomOf(look, a) ?? 0));
/** Head-room under which a drive counts as near its end: busy passages write half as much again. */
const leastHeadRoom = 1.6;

export const driveRules: Rule[] = [
  {
    id: 'no-drive',
    station: 'drive',
    weight: 'stops',
    check(look) {
      if (look.drive) return null;
      const other = others(look)[0];
      return {
        title: 'The drive of this recipe is not on the list',
        text: 'It was taken off, or it belongs to another machine.',
        remedies: other
          ? [toDrive(look, other)]
          : [{ label: 'Add a folder', instruction: 'Add a folder for takes under Drive.' }],
      };
    },
  },
  {
    id: 'drive-trouble',
    station: 'drive',
    weight: 'stops',
    check(look) {
      if (!look.drive?.problem) return null;
      const other = others(look)[0];
      return {
        title: `${look.drive.name} cannot be used now`,
        text: look.drive.problem,
        remedies: other
          ? [toDrive(look, other)]
          : [{ label: 'Plug it in', instruction: 'Plug the drive in, or add another folder.' }],
      };
    },
  },
  {
    id: 'drive-too-slow',
    station: 'drive',
    weight: 'risk',
    check(look) {
      const { speed, drive } = look.forecast;
      if (!drive || !speed?.availableBytesPerSecond || speed.headRoom === null || speed.headRoom >= leastHeadRoom)
        return null;
      const better = others(look).find((d) => (headRoomOf(look, d) ?? 0) >= leastHeadRoom * 1.2);
      return {
        title: `${drive.name} writes ${formatMegabytesPerSecond(speed.availableBytesPerSecond)}, ${formatMegabytesPerSecond(speed.neededBytesPerSecond)} are needed`,
        text: `${speed.headRoom < 1 ? 'Bytes pile up, and frames are refused before Encode so that none is torn out of the middle.' : 'Busy passages write half as much again.'}${speed.contention > 1 ? ' The game’s reading is counted in.' : ''}`,
        remedies: better ? [toDrive(look, better)] : [],
      };
    },
  },
  {
    id: 'same-drive-as-game',
    station: 'drive',
    weight: (look) => (look.drive?.kind === 'hard disk' ? 'risk' : 'note'),
    check(look) {
      if (!look.drive || shared(look, look.drive) !== true) return null;
      const apart = others(look).find(
        (d) =>
          shared(look, d) === false && (headRoomOf(look, d) ?? leastHeadRoom) >= leastHeadRoom && enoughRoom(look, d),
      );
      return {
        title: `The game reads from ${look.drive.name} too`,
        text:
          look.drive.kind === 'hard disk'
            ? 'One head serves both: game and file suffer. Two partitions of one drive do not help.'
            : 'A solid-state drive serves both, but loading passages may be written late.',
        remedies: apart
          ? [toDrive(look, apart)]
          : [
              {
                label: 'Another drive',
                instruction: 'Add a folder on another physical drive under Drive, or move the game.',
              },
            ],
      };
    },
  },
  {
    id: 'game-drive-unknown',
    station: 'game',
    weight: 'note',
    check(look) {
      if (look.game.facts.driveId !== null || look.context.drives.filter((d) => d.problem === null).length < 2)
        return null;
      return {
        title: 'Where the game reads from is not known',
        text: 'On the same physical drive as the takes both suffer; a tenth of the speed is taken off as an assumption.',
        remedies: [{ label: 'Say it', instruction: 'Name the game’s drive under Game.' }],
      };
    },
  },
  {
    id: 'partition',
    station: 'drive',
    weight: 'note',
    check(look) {
      const game = look.context.drives.find((d) => d.id === look.game.facts.driveId);
      if (
        !look.drive ||
        !game ||
        game.id === look.drive.id ||
        game.deviceId === null ||
        game.deviceId !== look.drive.deviceId
      )
        return null;
      return {
        title: `${look.drive.name} and ${game.name} are one physical drive`,
        text: 'Two folders or partitions, one head and one queue.',
        remedies: [],
      };
    },
  },
  {
    id: 'drive-not-measured',
    station: 'drive',
    weight: 'note',
    check(look) {
      if (!look.drive || look.drive.problem || look.drive.writeBytesPerSecond !== null) return null;
      return {
        title: `How fast ${look.drive.name} writes is not known`,
        text: `${formatMegabytesPerSecond(bytesPerSecond(look))} are needed. The forecast lets the drive decide nothing until it was measured.`,
        remedies: [{ label: 'Measure it', instruction: 'Press “Measure” under Drive: three seconds.' }],
      };
    },
  },
  {
    id: 'network-drive',
    station: 'drive',
    weight: 'risk',
    check(look) {
      if (look.drive?.kind !== 'network') return null;
      const local = others(look).find((d) => d.kind !== 'network' && enoughRoom(look, d));
      return {
        title: `${look.drive.name} is reached over a network`,
        text: 'Its pauses come without warning, and each second of one fills memory.',
        remedies: local ? [toDrive(look, local)] : [],
      };
    },
  },
  {
    id: 'hard-disk-heavy',
    station: 'drive',
    weight: 'cost',
    check(look) {
      if (look.drive?.kind !== 'hard disk' || bytesPerSecond(look) < 25e6) return null;
      const solid = others(look).find((d) => d.kind === 'solid state' && enoughRoom(look, d));
      return {
        title: `${formatMegabytesPerSecond(bytesPerSecond(look))} on a hard disk`,
        text:
          look.drive.writeBytesPerSecond === null
            ? 'This one was not measured yet, and a disc is slowest on its inner tracks: measure it, on Path under Drive.'
            : `${formatMegabytesPerSecond(look.drive.writeBytesPerSecond)} were measured where it is now; on its inner tracks a disc gives about half.`,
        remedies: solid ? [toDrive(look, solid)] : [],
      };
    },
  },
  {
    id: 'room-short',
    station: 'drive',
    weight: 'risk',
    check(look) {
      const { drive, roomMinutes } = look.forecast;
      if (!drive?.freeBytes || drive.problem || roomMinutes === null || roomMinutes >= look.brief.sessionMinutes)
        return null;
      const larger = others(look).find((d) => enoughRoom(look, d));
      return {
        title: `A session of ${look.brief.sessionMinutes} min does not fit on ${drive.name}`,
        text: `It needs ${formatBytes(sessionBytes(bytesPerSecond(look), look.brief.sessionMinutes, look.recipe.rewrap))}${look.recipe.rewrap ? ' with the MP4 beside it' : ''}; ${formatBytes(drive.freeBytes)} are free: ${Math.floor(roomMinutes)} min.`,
        remedies: larger
          ? [toDrive(look, larger)]
          : [
              {
                label: 'Make room',
                instruction: 'Delete takes that have a proven copy, or add a folder on a larger drive.',
              },
            ],
      };
    },
  },
  {
    id: 'striping',
    station: 'drive',
    weight: 'note',
    check(look) {
      const { speed } = look.forecast;
      const measured = look.context.drives.flatMap((d) =>
        d.problem === null && d.writeBytesPerSecond !== null
          ? [{ id: d.id, name: d.name, writeBytesPerSecond: d.writeBytesPerSecond }]
          : [],
      );
      if (!speed || speed.headRoom === null || speed.headRoom >= 1 || measured.length < 2) return null;
      const equal = stripe(measured, 'equal').bytesPerSecond;
      const bySpeed = stripe(measured, 'by-speed').bytesPerSecond;
      return {
        title: `No single drive is fast enough; ${listWords(measured.map((d) => d.name))} together would be`,
        text: `In equal shares ${formatMegabytesPerSecond(equal)}, by speed ${formatMegabytesPerSecond(bySpeed)}, ${formatMegabytesPerSecond(speed.neededBytesPerSecond)} are needed. One take goes to one folder here; fewer bits are the way.`,
        remedies: [],
      };
    },
  },
  {
    id: 'ceiling-under-session',
    station: 'drive',
    weight: 'risk',
    check(look) {
      const ceiling = look.recipe.ceilingMinutes;
      if (ceiling === null || ceiling >= look.brief.sessionMinutes) return null;
      return {
        title: `A take ends after ${ceiling} min, a session lasts ${look.brief.sessionMinutes}`,
        text: 'What comes after is not recorded.',
        remedies: [{ label: 'No ceiling', change: { ...look.recipe, ceilingMinutes: null } }],
      };
    },
  },
  {
    id: 'forgotten-take',
    station: 'drive',
    weight: 'note',
    check(look) {
      const { roomMinutes } = look.forecast;
      if (
        look.recipe.ceilingMinutes !== null ||
        look.brief.sessionMinutes < 60 ||
        roomMinutes === null ||
        roomMinutes > 12 * 60
      )
        return null;
      return {
        title: `A forgotten take fills the drive in ${Math.floor(roomMinutes / 60)} h`,
        text: 'A ceiling ends it by itself. Some never want one.',
        remedies: [],
      };
    },
  },
  {
    id: 'long-upload',
    station: 'drive',
    weight: 'note',
    check(look) {
      const { uploadMbps, sessionMinutes } = look.brief;
      if (uploadMbps === null) return null;
      const minutes = uploadMinutes(bytesPerSecond(look) * 60 * sessionMinutes, uploadMbps);
      if (minutes < sessionMinutes) return null;
      return {
        title: `A session is ${(minutes / 60).toFixed(1)} h on the line`,
        text: `${formatBytes(bytesPerSecond(look) * 60 * sessionMinutes)} at ${uploadMbps} Mb/s. Size has two prices: room and waiting.`,
        remedies: [],
      };
    },
  },
];
