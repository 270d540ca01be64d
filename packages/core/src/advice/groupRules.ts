import { bitrateByArea, sideBySide } from '../picture';
import { withEncoder } from '../codec';
import { formatKbps, formatMs, formatPercent, formatSize } from '../units';
import { setEncode, type Rule } from './rule';
import { works, isQuality, isSetRate, keySeconds } from './look';

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
      const text =
        look.brief.editor === 'old'
          ? 'The older editor wants one every half second; else it jumps or refuses.'
          : 'Every jump decodes from the last key picture on: the editor crawls.';
      return {
        title: `Key pictures every ${keySeconds(look).toFixed(1)} s`,
        text,
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
      return {
        title: `A key picture every ${keySeconds(look).toFixed(2)} s`,
        text: 'Every 0.25 s makes a moving scene 7 to 13 % larger and a still one several times. Only older editors need it.',
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
        title: 'Open groups lean over a cut',
        text: 'Pictures before a key picture may need those after it; some editors show grey at a cut.',
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
        title: `Profile ${look.recipe.encode.profile === 'main' ? 'Main' : 'Baseline'} leaves savings out`,
        text: 'High is usual and opens everywhere that is not very old.',
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
        title: `The encoder may use ${look.recipe.encode.threads} ${look.recipe.encode.threads === 1 ? 'thread' : 'threads'}`,
        text: 'Fewer threads let a frame take longer, and here Encode has no time to spare.',
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
        title: `An older editor does not open ${look.facts.standard}`,
        text: 'The import fails, or the picture stays black.',
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
        title: `This page cannot play ${look.facts.standard}${look.recipe.encode.rateControl === 'lossless' ? ' lossless' : ''}`,
        text: 'Browsers decode AVC and AV1 in 4:2:0. The file plays in a player, and the verdict reads it all the same.',
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
      return {
        title: 'Encode has time to spare',
        text: `One step more effort saves about ${formatPercent(1 - after.bits.value / look.forecast.bits.value)} of the size at one quality and costs ${formatMs(after.loads.encode.usual - load.usual)} a frame.`,
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
      return {
        title: 'HEVC on the same card is smaller at one look',
        text: 'About 0.7 of the bits (typical). Two trials of the same passage settle it for this game.',
        remedies: [{ label: 'Use HEVC', change: withEncoder(look.recipe, 'hevc-card') }],
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
      return {
        title: `${look.recipe.encode.bFrames} B-frames cost 26 to 30 % of the encoder's work`,
        text: 'They save 9 to 15 % of the bits. With Encode this near its budget, none is lighter.',
        remedies: [{ label: 'No B-frames', change: setEncode(look.recipe, { bFrames: 0 }) }],
      };
    },
  },
  {
    id: 'camera-beside',
    station: 'size',
    weight: 'note',
    check(look) {
      if (look.brief.camera !== 'beside') return null;
      const wide = sideBySide(look.recipe.size);
      const text = isSetRate(look)
        ? `Twice the area asks for ${formatKbps(bitrateByArea(look.recipe.encode.bitrateKbps, wide.areaFactor, false))}, with much motion ${formatKbps(bitrateByArea(look.recipe.encode.bitrateKbps, wide.areaFactor, true))}.`
        : `A quality number keeps the detail of each part; set it ${wide.qualityStep} lower, to ${Math.max(0, look.recipe.encode.quality - wide.qualityStep)}, as faces show more.`;
      return {
        title: `Game and camera side by side are ${formatSize(wide.file.widthPx, wide.file.heightPx)}`,
        text: `${text} Both stay in step and can be cut apart. This version does not take a camera yet.`,
        remedies: [],
      };
    },
  },
  {
    id: 'camera-over',
    station: 'size',
    weight: 'note',
    check(look) {
      if (look.brief.camera !== 'over') return null;
      return {
        title: 'A camera over the game cannot be moved later',
        text: 'It is burnt into the picture and may hide a map or a score. Beside the game, or in a file of its own, it stays free. This version does not take a camera yet.',
        remedies: [
          {
            label: 'Decide its corner',
            instruction: 'Look for a corner that the game leaves empty before the first take.',
          },
        ],
      };
    },
  },
];
