import { isMix, mixFirst } from './lanes';
import { recipeClashes } from '../recipe/clashes';
import { soundCodecWords } from '../recipe/words';
import type { Recipe } from '@mellow/model';
import { formatKbps, plural } from '../units';
import type { Look, Rule } from './rule';

/** The clashes of a recipe by itself are rules too; each has its own id. */
export const clashRules: Rule[] = [
  'odd-size',
  'encoder-cannot',
  'sound-in-container',
  'rewrap-cannot',
  'b-frames-low-delay',
  'baseline-b-frames',
  'ceiling-below-mean',
  'unsafe-mp4',
].map((id) => ({
  id,
  station:
    id === 'odd-size'
      ? 'size'
      : ['encoder-cannot', 'b-frames-low-delay', 'baseline-b-frames', 'ceiling-below-mean'].includes(id)
        ? 'encode'
        : 'pack',
  weight: (look: Look) => recipeClashes(look.recipe).find((c) => c.id === id)?.weight ?? 'stops',
  check({ recipe }) {
    const clash = recipeClashes(recipe).find((c) => c.id === id);
    return clash
      ? { title: clash.title, text: clash.text, remedies: [{ label: clash.remedy.label, change: clash.remedy.recipe }] }
      : null;
  },
}));

const withLanes = (recipe: Recipe, lanes: Recipe['lanes']): Recipe => ({ ...recipe, lanes });
const only =
  (source: 'voice' | 'chat' | 'game') =>
  (lane: Recipe['lanes'][number]): boolean =>
    lane.sources.length === 1 && lane.sources[0] === source;
const has = (look: Look, source: 'voice' | 'chat' | 'game'): boolean =>
  look.recipe.lanes.some((lane) => lane.sources.includes(source));
const mostLanes = 6;

export const packRules: Rule[] = [
  {
    id: 'editor-wants-mp4',
    station: 'pack',
    weight: 'cost',
    check(look) {
      const { brief, recipe } = look;
      if (
        brief.editor === 'anything' ||
        recipe.container !== 'matroska' ||
        recipe.rewrap ||
        look.facts.containers.length === 1 ||
        recipe.lanes.some((l) => l.codec === 'pcm')
      )
        return null;
      return {
        title: 'The editor opens MP4 only',
        text: 'Record Matroska, which survives a crash, and copy its tracks into a plain MP4 after stopping: no loss, some seconds, the same size again.',
        remedies: [{ label: 'Make an MP4 afterwards', change: { ...recipe, rewrap: true } }],
      };
    },
  },
  {
    id: 'rewrap-of-mp4',
    station: 'pack',
    weight: 'note',
    check(look) {
      if (!look.recipe.rewrap || look.recipe.container !== 'mp4') return null;
      return {
        title: 'The file is a plain MP4 already',
        text: 'A second one would be a copy of the first.',
        remedies: [{ label: 'Make none', change: { ...look.recipe, rewrap: false } }],
      };
    },
  },
  {
    id: 'no-sound',
    station: 'sound',
    weight: 'cost',
    check(look) {
      if (look.recipe.lanes.length) return null;
      return {
        title: 'The file will be silent',
        text: 'No lane is kept. Sound that was not recorded cannot be had again.',
        remedies: [
          {
            label: 'Add a lane with everything',
            change: withLanes(look.recipe, [
              { name: 'Everything', sources: ['game', 'voice', 'chat'], codec: 'flac', bitrateKbps: 320 },
            ]),
          },
        ],
      };
    },
  },
  {
    id: 'voice-mixed',
    station: 'sound',
    weight: 'cost',
    check(look) {
      const { recipe, brief } = look;
      if (
        brief.soundLayout === 'mix' ||
        brief.purpose === 'light' ||
        !has(look, 'voice') ||
        recipe.lanes.some(only('voice')) ||
        recipe.lanes.length >= mostLanes
      )
        return null;
      return {
        title: 'The voice is on no lane of its own',
        text: 'Mixed with the game it cannot be made louder, cleaned or cut afterwards.',
        remedies: [
          {
            label: 'Add a lane for the voice',
            change: withLanes(recipe, [
              ...recipe.lanes,
              { name: 'Voice', sources: ['voice'], codec: recipe.lanes[0]?.codec ?? 'flac', bitrateKbps: 160 },
            ]),
          },
        ],
      };
    },
  },
  {
    id: 'chat-mixed',
    station: 'sound',
    weight: 'note',
    check(look) {
      const { recipe, brief } = look;
      if (
        brief.soundLayout !== 'every-source' ||
        !has(look, 'chat') ||
        recipe.lanes.some(only('chat')) ||
        recipe.lanes.length >= mostLanes
      )
        return null;
      return {
        title: 'Other people’s talk is on no lane of its own',
        text: 'On its own lane it can be deleted, as they may want.',
        remedies: [
          {
            label: 'Add a lane for the chat',
            change: withLanes(recipe, [
              ...recipe.lanes,
              { name: 'Chat', sources: ['chat'], codec: recipe.lanes[0]?.codec ?? 'flac', bitrateKbps: 160 },
            ]),
          },
        ],
      };
    },
  },
  {
    id: 'chat-kept',
    station: 'sound',
    weight: 'note',
    check(look) {
      const first = look.recipe.lanes[0];
      if (!first?.sources.includes('chat') || look.game.facts.extras.includes('voice chat') === false) return null;
      return {
        title: 'The first lane keeps other people’s talk',
        text: 'Players play the first lane; what others said is published with it.',
        remedies:
          first.sources.length > 1
            ? [
                {
                  label: 'Take chat off the first lane',
                  change: withLanes(
                    look.recipe,
                    look.recipe.lanes.map((lane, i) =>
                      i === 0 ? { ...lane, sources: lane.sources.filter((s) => s !== 'chat') } : lane,
                    ),
                  ),
                },
              ]
            : [],
      };
    },
  },
  {
    id: 'first-lane-part',
    station: 'sound',
    weight: 'cost',
    check(look) {
      const { lanes } = look.recipe;
      if (lanes.length < 2 || isMix(lanes[0], lanes)) return null;
      return {
        title: `Players play “${lanes[0]?.name ?? ''}” only`,
        text: 'They play the first lane; a silent voice or game there is no fault of the file. The lane with most sources belongs first.',
        remedies: [{ label: 'Put the fullest lane first', change: withLanes(look.recipe, mixFirst(lanes)) }],
      };
    },
  },
  {
    id: 'aac-on-few-cores',
    station: 'sound',
    weight: 'cost',
    check(look) {
      const aac = look.recipe.lanes.filter((lane) => lane.codec === 'aac');
      if (aac.length < 3 || (look.machine?.cores ?? 4) > 2 || look.brief.editor !== 'anything' || look.recipe.rewrap)
        return null;
      return {
        title: `${plural(aac.length, 'AAC lane')} cost about ${(aac.length * 0.085).toFixed(2)} of a core`,
        text: 'FLAC is lossless, costs an eighth of that and fits the drive easily.',
        remedies: [
          {
            label: 'Use FLAC',
            change: withLanes(
              look.recipe,
              look.recipe.lanes.map((lane) => (lane.codec === 'aac' ? { ...lane, codec: 'flac' } : lane)),
            ),
          },
        ],
      };
    },
  },
  {
    id: 'many-lanes',
    station: 'sound',
    weight: 'note',
    check(look) {
      if (look.recipe.lanes.length < 5) return null;
      return {
        title: `${plural(look.recipe.lanes.length, 'lane')} are more than most editors show`,
        text: 'One lane is the lightest; everything, voice and game are enough for most.',
        remedies: [],
      };
    },
  },
  {
    id: 'thin-sound',
    station: 'sound',
    weight: 'cost',
    check(look) {
      const thin = look.recipe.lanes.filter((lane) => lane.codec === 'aac' && lane.bitrateKbps < 96);
      if (!thin.length) return null;
      return {
        title: `${thin[0]?.name ?? ''} has ${formatKbps(thin[0]?.bitrateKbps ?? 0)}`,
        text: 'Below 96 kb/s AAC gives up the highest sounds of a stereo lane; 128 cost a quarter of a megabyte more a minute.',
        remedies: [
          {
            label: 'Use 128 kb/s',
            change: withLanes(
              look.recipe,
              look.recipe.lanes.map((lane) => (thin.includes(lane) ? { ...lane, bitrateKbps: 128 } : lane)),
            ),
          },
        ],
      };
    },
  },
  {
    id: 'pcm-larger',
    station: 'sound',
    weight: 'note',
    check(look) {
      const pcm = look.recipe.lanes.filter((lane) => lane.codec === 'pcm').length;
      if (!pcm || look.recipe.container !== 'matroska') return null;
      return {
        title: `${plural(pcm, 'lane')} in ${soundCodecWords.pcm}: ${(pcm * 11.5).toFixed(1)} MB a minute`,
        text: 'FLAC holds the same samples in about two thirds. A few old programs read PCM only.',
        remedies: [
          {
            label: 'Use FLAC',
            change: withLanes(
              look.recipe,
              look.recipe.lanes.map((lane) => (lane.codec === 'pcm' ? { ...lane, codec: 'flac' } : lane)),
            ),
          },
        ],
      };
    },
  },
  {
    id: 'lossy-master',
    station: 'sound',
    weight: 'note',
    check(look) {
      if (
        look.brief.purpose !== 'master' ||
        look.brief.editor !== 'anything' ||
        look.recipe.rewrap ||
        !look.recipe.lanes.some((lane) => lane.codec === 'aac' || lane.codec === 'opus')
      )
        return null;
      return {
        title: 'A master copy with lossy sound',
        text: 'Cleaning and pitch work better on all of it; FLAC adds some MB a minute.',
        remedies: [
          {
            label: 'Use FLAC',
            change: withLanes(
              look.recipe,
              look.recipe.lanes.map((lane) => ({ ...lane, codec: 'flac' })),
            ),
          },
        ],
      };
    },
  },
  {
    id: 'background-sound',
    station: 'sound',
    weight: 'note',
    check(look) {
      if (!look.game.facts.extras.includes('browser') || !has(look, 'game')) return null;
      return {
        title: 'Everything the PC plays is recorded',
        text: 'A film or music in a browser goes into the game’s sound and cannot be taken out.',
        remedies: [
          {
            label: 'Close it',
            instruction: 'Close the browser’s players, or send them to another output, before rolling.',
          },
        ],
      };
    },
  },
];
