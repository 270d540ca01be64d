import { mostNextDrives, type DriveFacts, type Parts, type Recipe } from '@mellow/model';
import {
  contentionOf,
  driveTestWords,
  isStriped,
  longestMinutes,
  sharedWithGame,
  speedCheck,
  stripedDrive,
  uploadMinutes,
} from '../storage';

import type { Look, Rule } from './rule';
import { isCut } from '../recipe/clashes';
import { driveTexts } from './driveTexts';
import { overloadOf } from './look';

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
/** A little below what the file system takes. */
const belowLimit = (limitBytes: number): Parts => ({ by: 'size', megabytes: Math.floor((limitBytes * 0.98) / 1e6) });
const withClosedGroups = (recipe: Recipe): Recipe => ({ ...recipe, encode: { ...recipe.encode, closedGroups: true } });
/** Over all of these at once, from the recipe's own drive on where it is one of them. */
function stripedOver(recipe: Recipe, drives: readonly { id: string }[]): Recipe {
  const ids = drives.map(({ id }) => id);
  const driveId = ids.includes(recipe.driveId) ? recipe.driveId : (ids[0] ?? recipe.driveId);
  return {
    ...recipe,
    driveId,
    nextDriveIds: ids.filter((id) => id !== driveId).slice(0, mostNextDrives),
    parts: { by: 'striped', shares: 'by-speed' },
    container: recipe.container === 'mp4' ? 'fragmented-mp4' : recipe.container,
  };
}
const headRoomOf = (look: Look, drive: DriveFacts): number | null =>
  speedCheck(drive, bytesPerSecond(look), shared(look, drive)).headRoom;
/** Other drives that work, best first by head-room. */
const others = (look: Look): DriveFacts[] =>
  look.context.drives
    .filter((d) => d.id !== look.drive?.id && d.problem === null && d.freeBytes !== null)
    .toSorted((a, b) => (headRoomOf(look, b) ?? 0) - (headRoomOf(look, a) ?? 0));
/** Head-room under which a drive counts as near its end: busy passages write half as much again. */
const leastHeadRoom = 1.6;

/** Another drive that is fast enough by a margin, and has room for a session. */
export const fasterDriveWithRoom = (look: Look): DriveFacts | null =>
  others(look).find((d) => (headRoomOf(look, d) ?? 0) >= leastHeadRoom * 1.2 && enoughRoom(look, d)) ?? null;

export const driveRules: Rule[] = [
  {
    id: 'no-drive',
    station: 'drive',
    weight: 'stops',
    check(look) {
      if (look.drive) return null;
      const other = others(look)[0];
      return {
        ...driveTexts.noDrive,
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
        ...driveTexts.driveTrouble(look.drive.name, look.drive.problem),
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
      const better = fasterDriveWithRoom(look);
      return {
        ...driveTexts.driveTooSlow({
          name: drive.name,
          availableBytesPerSecond: speed.availableBytesPerSecond,
          neededBytesPerSecond: speed.neededBytesPerSecond,
          headRoom: speed.headRoom,
          contention: speed.contention,
          overload: overloadOf(look, 'drive'),
        }),
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
        ...driveTexts.sameDriveAsGame(look.drive.name, look.drive.kind),
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
        ...driveTexts.gameDriveUnknown(1 - 1 / contentionOf(look.drive?.kind ?? 'unknown', null)),
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
        ...driveTexts.partition(look.drive.name, game.name),
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
        ...driveTexts.driveNotMeasured(look.drive.name, bytesPerSecond(look)),
        remedies: [{ label: 'Test it', instruction: `Press “Test it” under Drive. It writes ${driveTestWords}.` }],
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
        ...driveTexts.networkDrive(look.drive.name),
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
        ...driveTexts.hardDiskHeavy(bytesPerSecond(look), look.drive.writeBytesPerSecond),
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
      if (
        !drive ||
        drive.freeBytes === null ||
        drive.problem ||
        roomMinutes === null ||
        roomMinutes >= look.brief.sessionMinutes
      )
        return null;
      const larger = others(look).find((d) => enoughRoom(look, d));
      const { nextDriveIds } = look.recipe;
      const more = others(look).find((d) => !nextDriveIds.includes(d.id) && (d.freeBytes ?? 0) > 0);
      return {
        ...driveTexts.roomShort({
          sessionMinutes: look.brief.sessionMinutes,
          name: drive.name,
          bytesPerSecond: bytesPerSecond(look),
          rewrap: look.recipe.rewrap,
          freeBytes: drive.freeBytes,
          roomMinutes,
        }),
        remedies: larger
          ? [toDrive(look, larger)]
          : [
              ...(more
                ? [
                    {
                      label: `Go on on ${more.name}`,
                      change: withClosedGroups({ ...look.recipe, nextDriveIds: [...nextDriveIds, more.id] }),
                    },
                  ]
                : []),
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
      const { drives } = look.context;
      const measured = drives
        .filter((d) => d.problem === null && d.writeBytesPerSecond !== null)
        .slice(0, mostNextDrives + 1);
      if (!speed || speed.headRoom === null || speed.headRoom >= 1 || measured.length < 2) return null;
      if (isStriped(look.recipe)) return null;
      // Where one drive alone is fast enough, or all together are not, shares are no way.
      if (measured.some((d) => (d.writeBytesPerSecond ?? 0) > speed.neededBytesPerSecond)) return null;
      const striped = stripedOver(look.recipe, measured);
      const together = (shares: 'equal' | 'by-speed'): number =>
        stripedDrive({ ...striped, parts: { by: 'striped', shares } }, drives)?.writeBytesPerSecond ?? 0;
      const bySpeed = together('by-speed');
      if (bySpeed <= speed.neededBytesPerSecond) return null;
      return {
        ...driveTexts.striping({
          names: measured.map((d) => d.name),
          equal: together('equal'),
          bySpeed,
          neededBytesPerSecond: speed.neededBytesPerSecond,
        }),
        remedies: [{ label: 'Stripe over them', change: striped }],
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
        ...driveTexts.ceilingUnderSession(ceiling, look.brief.sessionMinutes),
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
        ...driveTexts.forgottenTake(roomMinutes),
        remedies: [],
      };
    },
  },
  {
    id: 'file-limit',
    station: 'drive',
    weight: 'risk',
    check(look) {
      const { drive, recipe, brief } = look;
      const limit = drive?.largestFileBytes ?? null;
      // Cut into files that stay below it, a take knows no such end.
      if (!drive || limit === null || isCut(recipe) || isStriped(recipe)) return null;
      const minutes = limit / bytesPerSecond(look) / 60;
      const session = Math.min(brief.sessionMinutes, recipe.ceilingMinutes ?? Infinity);
      if (minutes >= session) return null;
      const other = others(look).find((d) => d.largestFileBytes === null && enoughRoom(look, d));
      const ceiling = Math.floor(minutes * 0.9);
      return {
        ...driveTexts.fileLimit({ name: drive.name, limitBytes: limit, minutes }),
        remedies: [
          { label: 'Cut it into files that fit', change: withClosedGroups({ ...recipe, parts: belowLimit(limit) }) },
          ...(other ? [toDrive(look, other)] : []),
          ...(ceiling >= 1
            ? [{ label: `End takes after ${ceiling} min`, change: { ...recipe, ceilingMinutes: ceiling } }]
            : []),
          ...(other ? [] : [{ label: 'Another file system', instruction: driveTexts.otherFileSystem }]),
        ],
      };
    },
  },
  {
    id: 'site-size',
    station: 'drive',
    weight: 'note',
    check(look) {
      const { brief, recipe } = look;
      if (brief.destination !== 'video-site' || brief.purpose === 'light') return null;
      if (recipe.size.heightPx < 1000 || recipe.size.heightPx >= 1440) return null;
      return {
        ...driveTexts.siteSize(recipe.size.heightPx),
        remedies: [{ label: 'Enlarge at the end', instruction: driveTexts.enlargeAtTheEnd }],
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
        ...driveTexts.longUpload({ minutes, bytesPerSecond: bytesPerSecond(look), sessionMinutes, uploadMbps }),
        remedies: [],
      };
    },
  },
];
