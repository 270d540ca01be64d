import { isMix, mixFirst } from './lanes';
import {
  mostLanes,
  practiceSounds,
  roleOf,
  type Recipe,
  type SoundInput,
  type SoundRole,
  type SoundSource,
} from '@mellow/model';
import { isHeard } from '../sound/soundWords';
import type { Look, Rule } from './rule';
import { packTexts } from './packTexts';

const withLanes = (recipe: Recipe, lanes: Recipe['lanes']): Recipe => ({ ...recipe, lanes });
const only =
  (role: SoundRole) =>
  (lane: Recipe['lanes'][number]): boolean =>
    lane.sources.length > 0 && lane.sources.every((source) => roleOf(source) === role);
const has = (look: Look, role: SoundRole): boolean =>
  look.recipe.lanes.some((lane) => lane.sources.some((source) => roleOf(source) === role));
/** The sounds of a role that a recipe hears. */
const heardAs = (recipe: Recipe, role: SoundRole) =>
  recipe.sounds.filter(({ id }) => roleOf(id) === role).map(({ id }) => id);
const isKept = ({ lanes }: Recipe, id: SoundSource): boolean => lanes.some(({ sources }) => sources.includes(id));
/** It brings what is played, whatever plays it. */
const bringsAll = ({ id, from }: SoundInput): boolean =>
  (from.kind === 'page' && from.what === 'playback') || (from.kind === 'device' && roleOf(id) === 'game');

/** A lane that is added is kept as well as the best of the others. */
const leastLaneKbps = 128;
const addedKbps = ({ lanes }: Recipe): number =>
  Math.max(leastLaneKbps, ...lanes.map(({ bitrateKbps }) => bitrateKbps));

/** Lanes, and the codecs they are kept in. */
export const soundRules: Rule[] = [
  {
    id: 'editor-sound',
    station: 'sound',
    weight: 'cost',
    check(look) {
      const { brief, recipe } = look;
      const asMp4 = recipe.container !== 'matroska' || recipe.rewrap;
      const foreign = recipe.lanes.filter((lane) => lane.codec === 'flac' || lane.codec === 'opus');
      if (brief.editor === 'anything' || !asMp4 || !foreign.length) return null;
      const lanes = recipe.lanes.map((lane) =>
        foreign.includes(lane)
          ? { ...lane, codec: 'aac' as const, bitrateKbps: Math.max(lane.bitrateKbps, leastLaneKbps) }
          : lane,
      );
      return {
        ...packTexts.editorSound(foreign),
        remedies: [{ label: 'Use AAC', change: withLanes(recipe, lanes) }],
      };
    },
  },
  {
    id: 'no-sound',
    station: 'sound',
    weight: 'cost',
    check(look) {
      if (look.recipe.lanes.length) return null;
      const sources = look.recipe.sounds.map(({ id }) => id);
      if (!sources.length)
        return { ...packTexts.noSound, remedies: [{ label: 'Hear something', instruction: packTexts.hearSomething }] };
      return {
        ...packTexts.noSound,
        remedies: [
          {
            label: 'Add a lane with everything',
            change: withLanes(look.recipe, [{ name: 'Everything', sources, codec: 'flac', bitrateKbps: 320 }]),
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
        ...packTexts.voiceMixed,
        remedies: [
          {
            label: 'Add a lane for the voice',
            change: withLanes(recipe, [
              ...recipe.lanes,
              {
                name: 'Voice',
                sources: heardAs(recipe, 'voice'),
                codec: recipe.lanes[0]?.codec ?? 'flac',
                bitrateKbps: addedKbps(recipe),
              },
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
        ...packTexts.chatMixed,
        remedies: [
          {
            label: 'Add a lane for the chat',
            change: withLanes(recipe, [
              ...recipe.lanes,
              {
                name: 'Chat',
                sources: heardAs(recipe, 'chat'),
                codec: recipe.lanes[0]?.codec ?? 'flac',
                bitrateKbps: addedKbps(recipe),
              },
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
      if (
        !first?.sources.some((source) => roleOf(source) === 'chat') ||
        look.game.facts.extras.includes('voice chat') === false
      )
        return null;
      return {
        ...packTexts.chatKept,
        remedies: first.sources.some((source) => roleOf(source) !== 'chat')
          ? [
              {
                label: 'Take chat off the first lane',
                change: withLanes(
                  look.recipe,
                  look.recipe.lanes.map((lane, i) =>
                    i === 0 ? { ...lane, sources: lane.sources.filter((s) => roleOf(s) !== 'chat') } : lane,
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
        ...packTexts.firstLanePart(lanes),
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
        ...packTexts.aacOnFewCores(aac),
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
        ...packTexts.manyLanes(look.recipe.lanes),
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
        ...packTexts.thinSound(thin),
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
        ...packTexts.pcmLarger(pcm),
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
        ...packTexts.lossyMaster,
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
      const everything = look.recipe.sounds.some((sound) => bringsAll(sound) && isKept(look.recipe, sound.id));
      if (!everything && !(look.game.facts.extras.includes('browser') && has(look, 'game'))) return null;
      return {
        ...packTexts.backgroundSound,
        remedies: [
          {
            label: 'Close it',
            instruction: 'Close the browser’s players, or send them to another output, before rolling.',
          },
        ],
      };
    },
  },
  {
    id: 'sound-of-another',
    station: 'sound',
    weight: 'stops',
    check({ recipe, machine }) {
      const outside = recipe.sounds.filter(({ id, from }) => from.kind !== 'practice' && isKept(recipe, id));
      if (machine?.origin !== 'simulated' || !outside.length) return null;
      const known = new Set(practiceSounds.map(({ id }) => id));
      const lanes = recipe.lanes.flatMap((lane) => {
        const sources = lane.sources.filter((source) => known.has(source));
        return sources.length ? [{ ...lane, sources }] : [];
      });
      return {
        ...packTexts.soundOfAnother(machine.name, outside),
        remedies: [{ label: 'Hear the stand-ins', change: { ...recipe, sounds: [...practiceSounds], lanes } }],
      };
    },
  },
  {
    id: 'kept-muted',
    station: 'sound',
    weight: 'note',
    check({ recipe }) {
      const quiet = recipe.sounds.filter((sound) => !isHeard(sound) && isKept(recipe, sound.id));
      if (!quiet.length) return null;
      const ids = new Set(quiet.map(({ id }) => id));
      return {
        ...packTexts.keptMuted(quiet),
        remedies: [
          {
            label: 'Let it be heard',
            change: {
              ...recipe,
              sounds: recipe.sounds.map((sound) =>
                ids.has(sound.id) ? { ...sound, muted: false, opening: 'open' as const } : sound,
              ),
            },
          },
        ],
      };
    },
  },
];
