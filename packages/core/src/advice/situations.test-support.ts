import {
  noCalibration,
  type Calibration,
  type DriveFacts,
  type EncoderName,
  type MachineSheet,
  type Recipe,
} from '@mellow/model';
import { withEncoder } from '../codec';
import type { ForecastContext } from '../forecast';
import { testContext, type ContextChange } from '../forecast/testContext.test-support';
import { kestrel, wren } from '../machine';
import { sizeByLines } from '../picture';
import { standInFacts } from '../storage';

/** A state of things that people come with, and what the best engineer in the room would say first. */
export interface Situation {
  name: string;
  context: ForecastContext;
  recipe: Recipe;
  /** The first line, and its button or what to do; null in both where nothing has to be said. */
  title: RegExp | null;
  remedy: RegExp | null;
}

const workstation: MachineSheet = {
  ...kestrel,
  id: 'osprey',
  name: 'Osprey',
  cores: 8,
  encoders: kestrel.encoders.map((e) => (e.encoder === 'av1-card' ? { ...e, works: true, reason: null } : e)),
};
const slowWithBlock: MachineSheet = {
  ...kestrel,
  id: 'slow',
  cores: 4,
  coreSpeed: { ...kestrel.coreSpeed, value: 0.28 },
};
const laptop: MachineSheet = {
  ...wren,
  id: 'laptop',
  encoders: wren.encoders.map((e) =>
    e.encoder === 'avc-processor-graphics'
      ? {
          ...e,
          works: true,
          reason: null,
          workUsPerMegapixel: { value: 2300, low: 2000, high: 2700, origin: 'assumed', from: 'x' },
        }
      : e,
  ),
};

const drive = (id: string, part: Partial<DriveFacts>): DriveFacts => ({
  ...standInFacts({
    id,
    name: id,
    kind: 'solid state',
    writeBytesPerSecond: 400e6,
    freeBytes: 300e9,
    totalBytes: 500e9,
  }),
  id,
  name: id,
  ...part,
});
const encode = (recipe: Recipe, part: Partial<Recipe['encode']>): Recipe => ({
  ...recipe,
  encode: { ...recipe.encode, ...part },
});
const on = (recipe: Recipe, encoder: EncoderName, part: Partial<Recipe['encode']> = {}): Recipe =>
  encode(withEncoder(recipe, encoder), part);
const lines = (recipe: Recipe, game: { widthPx: number; heightPx: number }, n: number): Recipe => ({
  ...recipe,
  size: { ...recipe.size, ...sizeByLines(game, n) },
});
const rate = (recipe: Recipe, num: number): Recipe => ({
  ...recipe,
  rate: { num, den: 1 },
  encode: { ...recipe.encode, keyDistanceFrames: num * 2 },
});

function made(
  name: string,
  change: ContextChange,
  recipeOf: (recipe: Recipe, context: ForecastContext) => Recipe,
  title: RegExp | null,
  remedy: RegExp | null,
): Situation {
  const context = testContext(change);
  return { name, context, recipe: recipeOf(context.start, context), title, remedy };
}

const disturbed: Calibration = {
  ...noCalibration,
  loads: [
    {
      trial: 3,
      recipe: testContext().start,
      gameSize: { widthPx: 1920, heightPx: 1080 },
      cores: 8,
      stations: { game: null, capture: null, size: null, encode: null, pack: null, drive: null },
      gameProcessorUs: null,
      gameFpsWithout: null,
      othersCores: 2.4,
    },
  ],
};
const master = { purpose: 'master' } as const;

const wrenCtx = { machine: wren, drives: wren.drives.map(standInFacts) };
export const situations: readonly Situation[] = [
  made(
    'an old laptop with a thorough encoder: effort first, as it has no block',
    { context: wrenCtx, facts: { driveId: null } },
    (r) => on({ ...r, driveId: 'wren-disk' }, 'avc-software', { effort: 'thorough' }),
    /^Effort middle$/,
    /^Effort middle$/,
  ),
  made(
    'four slow cores at middle effort beside an idle block',
    { context: { machine: slowWithBlock } },
    (r) => on(r, 'avc-software', { effort: 'middle' }),
    /^Use AVC on graphics card$/,
    /^Use AVC on graphics card$/,
  ),
  made(
    'a laptop whose second chip has a block, software being light enough',
    { context: { machine: laptop, drives: wren.drives.map(standInFacts) } },
    (r) => on({ ...r, driveId: 'wren-disk' }, 'avc-software', { effort: 'light' }),
    null,
    null,
  ),
  made(
    'a drive with 1 GB free',
    {
      context: { drives: [drive('Full', { freeBytes: 1e9 }), drive('Roomy', { freeBytes: 900e9 })] },
      facts: { driveId: 'elsewhere' },
    },
    (r) => ({ ...r, driveId: 'Full' }),
    /A session of 50 min does not fit on Full/,
    /^Use Roomy$/,
  ),
  made(
    'a drive with nothing free',
    {
      context: { drives: [drive('Full', { freeBytes: 0 }), drive('Roomy', { freeBytes: 900e9 })] },
      facts: { driveId: 'elsewhere' },
    },
    (r) => ({ ...r, driveId: 'Full' }),
    /A session of 50 min does not fit on Full/,
    /^Use Roomy$/,
  ),
  made(
    'a hard disk that the game reads from',
    {
      context: {
        drives: [drive('Barn', { kind: 'hard disk', writeBytesPerSecond: 70e6, freeBytes: 900e9 }), drive('Attic', {})],
      },
      facts: { driveId: 'Barn' },
    },
    (r) => ({ ...r, driveId: 'Barn' }),
    /^The game reads from Barn too$/,
    /^Use Attic$/,
  ),
  made(
    'a lossless master on a hard disk beside an idle solid-state drive',
    {
      brief: master,
      context: {
        drives: [
          drive('Barn', { kind: 'hard disk', writeBytesPerSecond: 70e6, freeBytes: 2000e9 }),
          drive('Attic', { freeBytes: 900e9 }),
        ],
      },
      facts: { driveId: 'elsewhere' },
    },
    (r) => on({ ...r, driveId: 'Barn' }, 'utvideo-software'),
    /^Use Attic$/,
    /^Use Attic$/,
  ),
  made(
    'the same, but the other drive has no room',
    {
      brief: master,
      context: {
        drives: [
          drive('Barn', { kind: 'hard disk', writeBytesPerSecond: 70e6, freeBytes: 2000e9 }),
          drive('Tiny', { freeBytes: 5e9 }),
        ],
      },
      facts: { driveId: 'elsewhere' },
    },
    (r) => on({ ...r, driveId: 'Barn' }, 'utvideo-software'),
    /^The denser lossless codec$|^AVC at quality 12$/,
    /^The denser lossless codec$|^AVC at quality 12$/,
  ),
  made(
    'lossless for a video that is published',
    {},
    (r) => on(r, 'avc-software', { rateControl: 'lossless' }),
    /^Lossless is several times larger/,
    /^Constant quality 18$/,
  ),
  made(
    '240 frames a second for slow motion on eight cores that carry it',
    { brief: { purpose: 'slow-motion' }, facts: { freeFps: 300 }, game: { capFps: null } },
    (r) => rate(on(r, 'avc-software', { effort: 'light' }), 240),
    null,
    null,
  ),
  made(
    'a talk whose voice is mixed with the game',
    { brief: { purpose: 'long-play', soundLayout: 'voice-apart' } },
    (r) => ({
      ...rate(r, 30),
      lanes: [{ name: 'All', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 }],
    }),
    /^The voice is on no lane of its own$/,
    /^Add a lane for the voice$/,
  ),
  made('no lane at all', {}, (r) => ({ ...r, lanes: [] }), /^The file will be silent$/, /^Add a lane with everything$/),
  made(
    'the voice on the first lane, everything on the second',
    {},
    (r) => ({
      ...r,
      lanes: [
        { name: 'Voice', sources: ['voice'], codec: 'flac', bitrateKbps: 320 },
        { name: 'All', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 },
      ],
    }),
    /^Players play “Voice” only$/,
    /.+/,
  ),
  made(
    'a game of 40 fps in a file of 60',
    { facts: { freeFps: 40 }, game: { capFps: null } },
    (r) => rate(r, 60),
    /^The game shows 40/,
    /^File 30/,
  ),
  made(
    'other programs on a third of the processor',
    { context: { calibration: disturbed } },
    (r) => r,
    /^Other programs used 2.4 of 8/,
    /^Close them$/,
  ),
  made(
    'a block that the card does not have',
    {},
    (r) => on(r, 'av1-card'),
    /does not work on Kestrel$/,
    /^Use AVC in software$/,
  ),
  made('a plain MP4', {}, (r) => ({ ...r, container: 'mp4' }), /^Plain MP4 is lost in a power cut$/, /^Use Matroska$/),
  made(
    'a stretched picture',
    {},
    (r) => ({ ...r, size: { ...r.size, widthPx: 1440, heightPx: 1080, fit: 'stretch' } }),
    /^The picture is stretched/,
    /^Use 1920×1080$/,
  ),
  made(
    'text of 6 lines in the file',
    { facts: { smallTextPx: 12 }, game: { widthPx: 2560, heightPx: 1440 } },
    (r, c) => lines(r, c.game, 720),
    /^The smallest text is 6.0 px high/,
    /^Use 1920×1080$/,
  ),
  made(
    'HEVC for an older editor',
    { brief: { editor: 'old' } },
    (r) => on(r, 'hevc-card'),
    /^An older editor does not open HEVC$/,
    /^Use AVC$/,
  ),
  made(
    'key pictures far apart for an older editor',
    { brief: { editor: 'old' } },
    (r) => encode(r, { keyDistanceFrames: 300 }),
    /^Key pictures every 5.0 s$/,
    /^Every 0.5 s$/,
  ),
  made('an odd side', {}, (r) => ({ ...r, size: { ...r.size, widthPx: 1919 } }), /has an odd side$/, /^Use 1918×1080$/),
  made(
    'a drive over a network',
    { context: { drives: [drive('Nas', { kind: 'network' }), drive('Attic', {})] }, facts: { driveId: 'elsewhere' } },
    (r) => ({ ...r, driveId: 'Nas' }),
    /^Nas is reached over a network$/,
    /^Use Attic$/,
  ),
  made(
    'a drive that is not there',
    {
      context: { drives: [drive('Gone', { problem: 'It is not plugged in.' }), drive('Attic', {})] },
      facts: { driveId: 'elsewhere' },
    },
    (r) => ({ ...r, driveId: 'Gone' }),
    /^Gone cannot be used now$/,
    /^Use Attic$/,
  ),
  made(
    'a ceiling under the session',
    {},
    (r) => ({ ...r, ceilingMinutes: 20 }),
    /^A take ends after 20 min/,
    /^No ceiling$/,
  ),
  made(
    'a workstation with the most thorough HEVC at 120 fps beside its block',
    { context: { machine: workstation } },
    (r) => rate(on(r, 'hevc-software', { effort: 'most-thorough' }), 120),
    /^Use HEVC on graphics card$/,
    /^Use HEVC on graphics card$/,
  ),
  made(
    '2.5 Mb/s for 1080 lines at 60',
    {},
    (r) => encode(r, { rateControl: 'constant-bitrate', bitrateKbps: 2500 }),
    /^2.500 kb\/s are 0.020 bits a pixel$/,
    /kb\/s$/,
  ),
  made(
    'a lossless master at 2160 lines in the heavy codec',
    { brief: master, game: { widthPx: 3840, heightPx: 2160 } },
    (r, c) => on(lines(r, c.game, 2160), 'ffv1-software'),
    /^The lighter lossless codec$/,
    /^The lighter lossless codec$/,
  ),
  made('a good setup', {}, (r) => r, null, null),
];
