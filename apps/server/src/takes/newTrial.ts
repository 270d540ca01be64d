import { join } from 'node:path';
import {
  containerWords,
  filedSize,
  formatSize,
  nameFrom,
  safeName,
  subfolderFrom,
  takeKindWords,
  type NameValues,
} from '@mellow/core';
import {
  machineOf,
  type Clock,
  type Drive,
  type MachineSheet,
  type PracticeGame,
  type Prediction,
  type Recipe,
  type RecipeVersion,
  type Setup,
  type Source,
  type Take,
  type TakeKind,
} from '@mellow/model';

export interface NewTrialInput {
  id: string;
  kind: TakeKind;
  game: PracticeGame;
  recipe: Recipe;
  setup: Setup;
  version: RecipeVersion;
  number: number;
  machine: MachineSheet;
  /** The drive the file lies on; for a simulated machine a real one of this PC. */
  drive: Drive;
  lengthS: number | null;
  clock: Clock;
  now: Date;
  prediction: Prediction | null;
  /** Where its pictures come from today. */
  source: Source;
}

/** The day where the person is, as the time beside it. */
const dayOf = (now: Date): string =>
  [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((n) => String(n).padStart(2, '0')).join('-');

/** What the words of a name stand for in one take. */
export function nameValuesOf(
  setup: Setup,
  kind: TakeKind,
  size: { widthPx: number; heightPx: number },
  number: number,
  recipeNumber: number,
  now: Date,
): NameValues {
  return {
    game: setup.game.title,
    setup: setup.name,
    kind: takeKindWords[kind],
    number: String(number),
    recipe: String(recipeNumber),
    size: formatSize(size.widthPx, size.heightPx).replace('×', 'x'),
    day: dayOf(now),
    time: now.toTimeString().slice(0, 8).replaceAll(':', '.'),
  };
}

/** A trial as it stands before it rolls: its file's name and place are built here, never taken. */
export function newTrial({
  id,
  kind,
  game,
  recipe,
  setup,
  version,
  number,
  machine,
  drive,
  lengthS,
  clock,
  now,
  prediction,
  source,
}: NewTrialInput): Take {
  const values = nameValuesOf(setup, kind, filedSize(recipe), number, version.number, now);
  const folder = subfolderFrom(recipe.file.subfolder, values).split('/').filter(Boolean).map(safeName);
  const fileName = join(...folder, `${nameFrom(recipe.file.name, values)}.${containerWords[recipe.container].suffix}`);
  return {
    id,
    setupId: setup.id,
    number,
    kind,
    state: 'preparing',
    end: null,
    endText: null,
    recipeVersion: version.number,
    recipe,
    game,
    source,
    machine: machineOf(machine),
    demo: false,
    clock,
    lengthS,
    createdAt: now.toISOString(),
    driveId: drive.id,
    fileName,
    filePath: join(drive.folder, fileName),
    facts: null,
    summary: null,
    playCost: null,
    likeness: null,
    unpaced: null,
    brief: setup.brief,
    verdict: null,
    prediction,
    marks: [],
    discarded: null,
    cuts: [],
    sampleLeftOut: 0,
    files: [],
    stripes: null,
    sounds: [],
    camera: null,
    fileOffsetUs: null,
    tailFrames: 0,
  };
}
