import { equalQuality, levelOf, withEncoder } from '../codec';
import { setEncode } from '../recipe/change';
import type { Rule } from './rule';
import { works, isQuality, keySeconds } from './look';
import { groupTexts } from './groupTexts';

/** A thorough encoder that saves less of the size than this is not worth its work. */
const leastSaving = 0.03;

/** Key pictures, groups, kinds of pixel, threads and what an editor takes. */
export const groupRules: Rule[] = [
  {
    id: 'keys-far',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const most = look.brief.editor === 'old' ? 0.55 : 10;
      if (!look.facts.keyDistance || keySeconds(look) <= most) return null;
      const seconds = look.brief.editor === 'old' ? 0.5 : 2;
      return {
        ...groupTexts.keysFar(keySeconds(look), look.brief.editor === 'old'),
        remedies: [
          {
            label: `Every ${seconds} s`,
            change: setEncode(look.recipe, { keyDistanceFrames: Math.max(1, Math.round(look.fps * seconds)) }),
          },
        ],
      };
    },
  },
  {
    id: 'keys-near',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (!look.facts.keyDistance || look.brief.editor === 'old' || keySeconds(look) >= 0.45) return null;
      const every2s = setEncode(look.recipe, { keyDistanceFrames: Math.max(1, Math.round(look.fps * 2)) });
      const share = look.forecast.pictureBits / look.forecastOf(every2s).pictureBits - 1;
      return {
        ...groupTexts.keysNear(keySeconds(look), share),
        remedies: [
          {
            label: 'Every 2 s',
            change: setEncode(look.recipe, { keyDistanceFrames: Math.max(1, Math.round(look.fps * 2)) }),
          },
        ],
      };
    },
  },
  {
    id: 'open-groups',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (look.recipe.encode.closedGroups || !look.facts.keyDistance || look.brief.editor === 'anything') return null;
      return {
        ...groupTexts.openGroups,
        remedies: [{ label: 'Close the groups', change: setEncode(look.recipe, { closedGroups: true }) }],
      };
    },
  },
  {
    id: 'old-profile',
    station: 'encode',
    weight: 'note',
    check(look) {
      if (!look.facts.profiles || look.recipe.encode.profile === 'high' || look.brief.editor === 'old') return null;
      return {
        ...groupTexts.oldProfile(look.recipe.encode.profile),
        remedies: [{ label: 'Profile High', change: setEncode(look.recipe, { profile: 'high' }) }],
      };
    },
  },
  {
    id: 'few-threads',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const load = look.forecast.loads.encode;
      if (
        !look.facts.threads ||
        look.recipe.encode.threads === 0 ||
        look.recipe.encode.threads > 2 ||
        !load ||
        load.busiest < load.budget * 0.8
      )
        return null;
      return {
        ...groupTexts.fewThreads(look.recipe.encode.threads),
        remedies: [{ label: 'Leave it to the encoder', change: setEncode(look.recipe, { threads: 0 }) }],
      };
    },
  },
  {
    id: 'editor-knows-avc',
    station: 'encode',
    weight: 'risk',
    check(look) {
      if (look.brief.editor !== 'old' || look.facts.standard === 'AVC') return null;
      return {
        ...groupTexts.editorKnowsAvc(look.facts.standard),
        remedies: [
          {
            label: 'Use AVC',
            change: withEncoder(
              look.recipe,
              look.facts.place === 'card' && works(look, 'avc-card') ? 'avc-card' : 'avc-software',
            ),
          },
        ],
      };
    },
  },
  {
    id: 'above-level',
    station: 'encode',
    weight: 'note',
    check({ recipe, fps }) {
      const written = levelOf(recipe);
      const standard = levelOf(recipe, 'standard');
      if (!written || written.code === standard?.code) return null;
      return { ...groupTexts.aboveLevel(fps, written.name, standard?.name ?? null), remedies: [] };
    },
  },
  {
    id: 'not-in-browser',
    station: 'encode',
    weight: 'note',
    check(look) {
      if (
        look.facts.browserPlays &&
        look.recipe.encode.pixels === '4:2:0' &&
        look.recipe.encode.rateControl !== 'lossless'
      )
        return null;
      return {
        ...groupTexts.notInBrowser(look.facts.standard, look.recipe.encode.rateControl),
        remedies: [],
      };
    },
  },
  {
    id: 'effort-to-spare',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const load = look.forecast.loads.encode;
      const { effort } = look.recipe.encode;
      if (
        effort !== 'lightest' ||
        !isQuality(look) ||
        !look.facts.efforts.length ||
        look.brief.matters[0] === 'game' ||
        !load ||
        load.busiest > load.budget * 0.4
      )
        return null;
      const change = setEncode(look.recipe, { effort: 'light' });
      const after = look.forecastOf(change);
      if (!after.loads.encode || after.loads.encode.busiest > after.loads.encode.budget * 0.65) return null;
      if (after.bits.value > look.forecast.bits.value * (1 - leastSaving)) return null;
      return {
        ...groupTexts.effortToSpare({
          bitsAfter: after.bits.value,
          bits: look.forecast.bits.value,
          usualAfterMs: after.loads.encode.usual,
          usualMs: load.usual,
        }),
        remedies: [{ label: 'Light effort', change }],
      };
    },
  },
  {
    id: 'newer-standard',
    station: 'encode',
    weight: 'note',
    check(look) {
      if (
        look.brief.matters[0] !== 'small-files' ||
        look.facts.standard !== 'AVC' ||
        look.facts.place !== 'card' ||
        !works(look, 'hevc-card') ||
        look.brief.editor === 'old'
      )
        return null;
      const hevc = withEncoder(look.recipe, 'hevc-card');
      const same = setEncode(hevc, {
        quality: Math.round(equalQuality(look.recipe.encode.quality, 'avc-card', 'hevc-card')),
      });
      return {
        ...groupTexts.newerStandard(look.forecastOf(same).pictureBits / look.forecast.pictureBits),
        remedies: [{ label: 'Use HEVC', change: isQuality(look) ? same : hevc }],
      };
    },
  },
  {
    id: 'thirsty-b-frames',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const load = look.forecast.loads.encode;
      if (look.recipe.encode.bFrames === 0 || !look.facts.mostBFrames || !load || load.busiest < load.budget * 0.9)
        return null;
      const plain = look.forecastOf(setEncode(look.recipe, { bFrames: 0 }));
      return {
        ...groupTexts.thirstyBFrames(
          look.recipe.encode.bFrames,
          1 - (plain.loads.encode?.usual ?? load.usual) / load.usual,
          1 - look.forecast.bits.value / plain.bits.value,
        ),
        remedies: [{ label: 'No B-frames', change: setEncode(look.recipe, { bFrames: 0 }) }],
      };
    },
  },
];
