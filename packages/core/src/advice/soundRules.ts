import { isMix, mixFirst } from './lanes';
import type { Recipe } from '@mellow/model';
import type { Look, Rule } from './rule';
import { packTexts } from './packTexts';

const withLanes = (recipe: Recipe, lanes: Recipe['lanes']): Recipe => ({ ...recipe, lanes });
const only =
  (source: 'voice' | 'chat' | 'game') =>
  (lane: Recipe['lanes'][number]): boolean =>
    lane.sources.length === 1 && lane.sources[0] === source;
const has = (look: Look, source: 'voice' | 'chat' | 'game'): boolean =>
  look.recipe.lanes.some((lane) => lane.sources.includes(source));
const mostLanes = 6;

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
          ? { ...lane, codec: 'aac' as const, bitrateKbps: Math.max(lane.bitrateKbps, 160) }
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
      return {
        ...packTexts.noSound,
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
        ...packTexts.voiceMixed,
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
        ...packTexts.chatMixed,
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
        ...packTexts.chatKept,
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
      if (!look.game.facts.extras.includes('browser') || !has(look, 'game')) return null;
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
];
