import { wren } from '../machine';
import { standInFacts } from '../storage';
import {
  disturbed,
  drive,
  encode,
  laptop,
  lines,
  made,
  master,
  on,
  rate,
  slowWithBlock,
  workstation,
  type Situation,
} from './situationParts.test-support';

const wrenCtx = { machine: wren, drives: wren.drives.map(standInFacts) };
const size4k = { widthPx: 3840, heightPx: 2160 };
const barn = drive('Barn', { kind: 'hard disk', writeBytesPerSecond: 70e6, freeBytes: 2000e9 });
const elsewhere = { driveId: 'elsewhere' } as const;

/** Each with its reason: what the expert looks at first. */
export const situations: readonly Situation[] = [
  // The game pays for software on two cores: lighter work and fewer frames, as it has no block.
  made(
    'an old laptop with a thorough encoder, which has no block',
    { context: wrenCtx, facts: { driveId: null } },
    (r) => on({ ...r, driveId: 'wren-disk' }, 'avc-software', { effort: 'thorough' }),
    'play-cost',
    /^Effort lightest, and File 30 fps$/,
  ),
  // A block that works leaves the processor to the game.
  made(
    'four slow cores at middle effort beside an idle block',
    { context: { machine: slowWithBlock } },
    (r) => on(r, 'avc-software', { effort: 'middle' }),
    'play-cost',
    /^Use AVC on graphics card/,
  ),
  made(
    'a laptop whose second chip has a block, software at light effort',
    { context: { machine: laptop, drives: wren.drives.map(standInFacts) } },
    (r) => on({ ...r, driveId: 'wren-disk' }, 'avc-software', { effort: 'light' }),
    'lost',
    /^Use AVC on processor graphics/,
  ),
  made(
    'a drive with 1 GB free',
    {
      context: { drives: [drive('Full', { freeBytes: 1e9 }), drive('Roomy', { freeBytes: 900e9 })] },
      facts: elsewhere,
    },
    (r) => ({ ...r, driveId: 'Full' }),
    'room',
    /^Use Roomy$/,
  ),
  made(
    'a drive with nothing free, and no other',
    { context: { drives: [drive('Full', { freeBytes: 0 })] }, facts: elsewhere },
    (r) => ({ ...r, driveId: 'Full' }),
    'room',
    /^Make room, or add a folder/,
  ),
  // A head that serves both: a rule of fact, whatever the figures say.
  made(
    'a hard disk that the game reads from',
    { context: { drives: [{ ...barn, freeBytes: 900e9 }, drive('Attic', {})] }, facts: { driveId: 'Barn' } },
    (r) => ({ ...r, driveId: 'Barn' }),
    'same-drive-as-game',
    /^The game reads from Barn too$/,
  ),
  // Lossless may stay lossless: AVC keeps every pixel in a third of the bytes.
  made(
    'a lossless master on a hard disk that is too slow for it',
    { brief: master, context: { drives: [barn, drive('Tiny', { freeBytes: 5e9 })] }, facts: elsewhere },
    (r) => on({ ...r, driveId: 'Barn' }, 'utvideo-software'),
    'lost',
    /^Use AVC in software, lossless/,
  ),
  made(
    'lossless at 4K60 that its drive cannot take',
    {
      brief: { ...master, sessionMinutes: 10 },
      game: size4k,
      context: { drives: [drive('Attic', { writeBytesPerSecond: 450e6, freeBytes: 2000e9 })] },
      facts: elsewhere,
    },
    (r, c) => on(lines({ ...r, driveId: 'Attic' }, c.game, 2160), 'utvideo-software'),
    'lost',
    /Use AVC in software, lossless, effort lightest/,
  ),
  made(
    'a lossless master at 2160 lines in the heavy codec',
    { brief: master, game: size4k },
    (r, c) => on(lines(r, c.game, 2160), 'ffv1-software'),
    'lost',
    /^Use AVC in software, lossless, effort lightest/,
  ),
  made(
    'lossless for a video that is published',
    {},
    (r) => on(r, 'avc-software', { rateControl: 'lossless' }),
    'lossless-to-publish',
    /^Lossless keeps more than can be seen$/,
  ),
  // 50 % of the speed on 60 fps needs 120 and no more.
  made(
    '240 frames a second for slow motion that asks for 120',
    { brief: { purpose: 'slow-motion' }, facts: { freeFps: 300 }, game: { capFps: null } },
    (r) => rate(on(r, 'avc-software', { effort: 'light' }), 240),
    'lost',
    /^File 120 fps$/,
  ),
  made(
    'a talk whose voice is mixed with the game',
    { brief: { purpose: 'long-play', soundLayout: 'voice-apart' } },
    (r) => ({
      ...rate(r, 30),
      lanes: [{ name: 'All', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 }],
    }),
    'voice-mixed',
    /^The voice is on no lane of its own$/,
  ),
  made('no lane at all', {}, (r) => ({ ...r, lanes: [] }), 'no-sound', /^The file will be silent$/),
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
    'first-lane-part',
    /^Players play “Voice” only$/,
  ),
  made(
    'a game of 40 fps in a file of 60',
    { facts: { freeFps: 40 }, game: { capFps: null } },
    (r) => rate(r, 60),
    'repeats',
    /^File 30 fps$/,
  ),
  // 1.7 % of repeats are less uneven than any other rate on a screen of 60 Hz.
  made('a game of 59 fps into 60', { facts: { freeFps: 59 }, game: { capFps: null } }, (r) => rate(r, 60), null),
  // Steps of two and three frames in turns: a fact that is said, and no reason to change the recipe.
  made('a cap of 144 into 60', { facts: { freeFps: 200 }, game: { capFps: 144 } }, (r) => rate(r, 60), null),
  made('a display of variable refresh', { facts: { limiters: ['variable refresh'] } }, (r) => r, null),
  made(
    'a display in high dynamic range',
    { context: { machine: { ...workstation, displays: [{ ...workstation.displays[0]!, hdr: true }] } } },
    (r) => r,
    'hdr-display',
    /shows a high dynamic range, the file does not$/,
  ),
  made(
    'other programs on a third of the processor',
    { context: { calibration: disturbed } },
    (r) => r,
    'others-busy',
    /^Other programs used 2.4 of 8/,
  ),
  // The card has AVC and HEVC: nobody has to go back to software.
  made(
    'a block that the card has not, for one standard only',
    {},
    (r) => on(r, 'av1-card'),
    'encoder-not-here',
    /^AV1 on graphics card does not work on Kestrel$/,
  ),
  made('a plain MP4', {}, (r) => ({ ...r, container: 'mp4' }), 'if-it-dies', /^Use Matroska$/),
  made(
    'a stretched picture',
    {},
    (r) => ({ ...r, size: { ...r.size, widthPx: 1440, heightPx: 1080, fit: 'stretch' } }),
    'stretched',
    /^The picture is stretched/,
  ),
  made(
    'text of 6 lines in the file',
    { facts: { smallTextPx: 12 }, game: { widthPx: 2560, heightPx: 1440 } },
    (r, c) => lines(r, c.game, 720),
    'small-text',
    /^File (2560×1440|1920×1080)$/,
  ),
  made(
    'HEVC for an older editor',
    { brief: { editor: 'old' } },
    (r) => on({ ...r, rewrap: true }, 'hevc-card', { keyDistanceFrames: 30 }),
    'opens',
    /^Use AVC on graphics card/,
  ),
  made(
    'key pictures far apart for an older editor',
    { brief: { editor: 'old' } },
    (r) => encode({ ...r, rewrap: true }, { keyDistanceFrames: 300 }),
    'opens',
    /^A key picture every 0.5 s$/,
  ),
  ...(['ffv1-software', 'utvideo-software'] as const).map((encoder) =>
    made(
      `an editor of plain MP4 only, and ${encoder}`,
      { brief: { editor: 'mp4' } },
      (r) => on({ ...r, rewrap: true }, encoder),
      'opens',
      /^Use /,
    ),
  ),
  ...(['av1-software', 'vp9-software'] as const).map((encoder) =>
    made(
      `an editor of plain MP4 only, and ${encoder}, on a PC that carries it`,
      {
        brief: { editor: 'mp4' },
        context: { machine: { ...workstation, cores: 64 } },
        game: { widthPx: 640, heightPx: 360 },
      },
      (r) =>
        on({ ...r, rewrap: true, size: { ...r.size, widthPx: 640, heightPx: 360 } }, encoder, {
          effort: 'lightest',
          quality: 20,
        }),
      // That only some editors open it is said as what is not certain.
      null,
    ),
  ),
  made(
    'an editor of plain MP4 only, and Matroska alone',
    { brief: { editor: 'mp4' } },
    (r) => ({ ...r, rewrap: false }),
    'opens',
    /^(Use Fragmented MP4|Make an MP4 afterwards)$/,
  ),
  made('an odd side', {}, (r) => ({ ...r, size: { ...r.size, widthPx: 1919 } }), 'odd-size', /has an odd side$/),
  made(
    'a drive over a network',
    { context: { drives: [drive('Nas', { kind: 'network' }), drive('Attic', {})] }, facts: elsewhere },
    (r) => ({ ...r, driveId: 'Nas' }),
    'network-drive',
    /^Nas is reached over a network$/,
  ),
  made(
    'a drive that is not there',
    {
      context: { drives: [drive('Gone', { problem: 'It is not plugged in.' }), drive('Attic', {})] },
      facts: elsewhere,
    },
    (r) => ({ ...r, driveId: 'Gone' }),
    'drive-trouble',
    /^Gone cannot be used now$/,
  ),
  made(
    'three hours on a drive whose files end at 4 GB',
    {
      brief: { sessionMinutes: 180 },
      context: { drives: [drive('Stick', { largestFileBytes: 4e9, freeBytes: 400e9 })] },
      facts: elsewhere,
    },
    (r) => ({ ...r, driveId: 'Stick' }),
    'file-limit',
    /./,
  ),
  // 90 MB/s of a head that the game uses too are 36: not enough for what lossless has to write.
  made(
    'a disk of 90 MB/s that is shared with the game, and lossless at 30 fps',
    {
      brief: master,
      context: { drives: [{ ...barn, writeBytesPerSecond: 90e6 }, drive('Attic', {})] },
      facts: { driveId: 'Barn' },
    },
    (r) => on({ ...rate(r, 30), driveId: 'Barn' }, 'utvideo-software'),
    'same-drive-as-game',
    /^The game reads from Barn too$/,
  ),
  made(
    'a ceiling under the session',
    {},
    (r) => ({ ...r, ceilingMinutes: 20 }),
    'ceiling-under-session',
    /^A take ends after 20 min/,
  ),
  made(
    'a workstation with the most thorough HEVC at 120 fps beside its block',
    { context: { machine: workstation } },
    (r) => rate(on(r, 'hevc-software', { effort: 'most-thorough' }), 120),
    'lost',
    /^Use (HEVC|AVC) on graphics card/,
  ),
  // The picture falls apart: the bitrate that the model says is enough.
  made(
    '1 Mb/s for 1080 lines at 60',
    {},
    (r) => encode(r, { rateControl: 'constant-bitrate', bitrateKbps: 1000, ceilingKbps: 1500 }),
    'picture',
    /kb\/s$|^Constant quality/,
  ),
  made(
    'a number so coarse that the picture is soft',
    {},
    (r) => encode(r, { quality: 34 }),
    'picture',
    /^Quality \d+$/,
  ),
  // A larger game than its file: the filter is what is too heavy, not the size.
  made(
    'a 4K game filed at 1080 lines by the crisp filter',
    { game: size4k, facts: { freeFps: 130 } },
    (r, c) => lines(r, c.game, 1080),
    'lost',
    /^Use the soft filter \(area\)$/,
  ),
  made(
    'a 1440p game filed at 1080 lines on slow cores',
    {
      game: { widthPx: 2560, heightPx: 1440 },
      context: { machine: { ...slowWithBlock, coreSpeed: { ...slowWithBlock.coreSpeed, value: 0.7 } } },
    },
    (r, c) => lines(r, c.game, 1080),
    'lost',
    /^(Use the soft filter \(area\)|File 2560×1440)$/,
  ),
  // The game pays though no station is over its budget.
  made(
    'four cores at thorough effort that keeps up and takes a fifth of the game',
    {
      context: {
        machine: {
          ...slowWithBlock,
          encoders: slowWithBlock.encoders.map((e) => ({ ...e, works: e.encoder.endsWith('software') })),
          coreSpeed: { ...slowWithBlock.coreSpeed, value: 1 },
        },
      },
    },
    (r) => on(r, 'avc-software', { effort: 'thorough' }),
    'play-cost',
    /^Effort (light|lightest)/,
  ),
  made(
    'six lanes of a talk whose voice is on none alone',
    { brief: { soundLayout: 'voice-apart' } },
    (r) => ({
      ...r,
      lanes: Array.from({ length: 6 }, (_, i) => ({
        name: `All ${i + 1}`,
        sources: ['game', 'voice', 'chat'],
        codec: 'flac',
        bitrateKbps: 320,
      })),
    }),
    'voice-mixed',
    /^The voice is on no lane of its own$/,
  ),
  made('a good setup', {}, (r) => r, null),
];
