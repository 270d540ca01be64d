import type { DriveFacts, Recipe } from '@mellow/model';
import { isStriped, roomInStripes, stripeCounts, stripeLayout } from './striping';

type Spread = Pick<Recipe, 'driveId' | 'nextDriveIds' | 'parts'>;

/** The folders a striped take goes to, in their order; those that cannot be used now are left out. */
export const stripedFolders = (recipe: Spread, drives: readonly DriveFacts[]): DriveFacts[] =>
  isStriped(recipe)
    ? [...new Set([recipe.driveId, ...recipe.nextDriveIds])].flatMap((id) =>
        drives.filter((d) => d.id === id && d.problem === null),
      )
    : [];

/** Speeds of each folder as it writes its stripe: folders on one physical drive have its speed together. */
export function stripeSpeeds(
  folders: readonly Pick<DriveFacts, 'writeBytesPerSecond' | 'deviceId'>[],
): (number | null)[] {
  return folders.map(({ writeBytesPerSecond, deviceId }) => {
    const together = deviceId === null ? 1 : folders.filter((other) => other.deviceId === deviceId).length;
    return writeBytesPerSecond === null ? null : writeBytesPerSecond / together;
  });
}

/**
 * All folders of a striped recipe as one drive: as fast as the whole is when its slowest share is full on, with room until
 * the first folder is full. Null where the recipe is not striped, or nothing is left to spread over.
 */
export function stripedDrive(recipe: Spread, drives: readonly DriveFacts[]): DriveFacts | null {
  const folders = stripedFolders(recipe, drives);
  const [first, ...others] = folders;
  if (!first || !others.length || recipe.parts.by !== 'striped') return null;
  const speeds = stripeSpeeds(folders);
  const layout = stripeLayout(speeds, recipe.parts.shares);
  const counts = stripeCounts(layout);
  const known = speeds.filter((speed) => speed !== null);
  const free = folders.flatMap(({ freeBytes }) => (freeBytes === null ? [] : [freeBytes]));
  return {
    ...first,
    name: `${first.name} +${others.length}`,
    writeBytesPerSecond:
      known.length < folders.length
        ? null
        : Math.min(...known.map((speed, stripe) => (speed * layout.pattern.length) / (counts[stripe] ?? 1))),
    freeBytes: free.length < folders.length ? null : roomInStripes(layout, free),
    largestFileBytes: null,
  };
}
