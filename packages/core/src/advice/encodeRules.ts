import { isGrabbed } from '@mellow/model';
import { encoderFacts, encoderWords, withEncoder } from '../codec';
import { formatFps, formatKbps } from '../units';
import { onAvcScale, onOwnScale, setEncode, type Rule } from './rule';
import { overloadOf, blocksThatWork, isQuality, isSetRate, setBitsPerPixel, kbpsAt } from './look';
import { encodeTexts } from './encodeTexts';

/** Encoder, effort and rate control. */
export const encodeRules: Rule[] = [
  {
    id: 'encoder-not-here',
    station: 'encode',
    weight: 'stops',
    check(look) {
      const state = look.machine?.encoders.find((e) => e.encoder === look.recipe.encode.encoder);
      if (!state || state.works) return null;
      const other =
        blocksThatWork(look).find((e) => encoderFacts[e].standard === look.facts.standard) ?? 'avc-software';
      return {
        ...encodeTexts.encoderNotHere(look.recipe.encode.encoder, look.machine?.name, state.reason),
        remedies: [{ label: `Use ${encoderWords(other)}`, change: withEncoder(look.recipe, other) }],
      };
    },
  },
  {
    id: 'block-idle',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (
        look.facts.place !== 'software' ||
        !look.facts.quality ||
        look.brief.purpose === 'master' ||
        look.recipe.encode.rateControl === 'lossless' ||
        look.recipe.encode.pixels !== '4:2:0'
      )
        return null;
      const block = blocksThatWork(look).find((e) => encoderFacts[e].standard === look.facts.standard);
      if (!block) return null;
      return {
        ...encodeTexts.blockIdle(block),
        remedies: [{ label: `Use ${encoderWords(block)}`, change: withEncoder(look.recipe, block) }],
      };
    },
  },
  {
    id: 'card-is-full',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (look.facts.place !== 'card' || look.game.capFps !== null || look.game.facts.freeFps === null) return null;
      return {
        ...encodeTexts.cardIsFull(look.game.facts.freeFps),
        remedies: [
          {
            label: 'Cap the game',
            instruction: `A cap a little under ${formatFps(look.game.facts.freeFps)} keeps room for the block.`,
          },
        ],
      };
    },
  },
  {
    id: 'encode-over',
    station: 'encode',
    weight: 'risk',
    check(look) {
      const load = look.forecast.loads.encode;
      if (!load || load.busiest <= load.budget) return null;
      return {
        ...encodeTexts.encodeOver(load.busiest, load.budget, overloadOf(look, 'encode')),
        remedies: [],
      };
    },
  },
  {
    id: 'quality-too-fine',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (!isQuality(look) || look.brief.purpose === 'master' || onAvcScale(look, look.recipe.encode.quality) >= 15)
        return null;
      const quality = onOwnScale(look, 16);
      const now = look.forecast.bits.value;
      const then = look.forecastOf(setEncode(look.recipe, { quality })).bits.value;
      return {
        ...encodeTexts.qualityTooFine({ quality: look.recipe.encode.quality, enough: quality, then, now }),
        remedies: [{ label: `Quality ${quality}`, change: setEncode(look.recipe, { quality }) }],
      };
    },
  },
  {
    id: 'quality-coarse',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (!isQuality(look) || onAvcScale(look, look.recipe.encode.quality) <= 28) return null;
      const quality = onOwnScale(look, 26);
      return {
        ...encodeTexts.qualityCoarse(look.recipe.encode.quality, look.forecast.picture.word, look.forecast.bits.value),
        remedies: [{ label: `Quality ${quality}`, change: setEncode(look.recipe, { quality }) }],
      };
    },
  },
  {
    id: 'bitrate-low',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (!isSetRate(look) || setBitsPerPixel(look) >= 0.05) return null;
      const kbps = kbpsAt(look, 0.085);
      return {
        ...encodeTexts.bitrateLow(look.recipe.encode.bitrateKbps, setBitsPerPixel(look), look.forecast.picture.word),
        remedies: [
          {
            label: formatKbps(kbps),
            change: setEncode(look.recipe, {
              bitrateKbps: kbps,
              ceilingKbps: Math.max(look.recipe.encode.ceilingKbps, Math.round(kbps * 1.5)),
            }),
          },
        ],
      };
    },
  },
  {
    id: 'bitrate-high',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (!isSetRate(look) || look.brief.purpose === 'master' || setBitsPerPixel(look) <= 0.35) return null;
      const kbps = kbpsAt(look, 0.2);
      return {
        ...encodeTexts.bitrateHigh(look.recipe.encode.bitrateKbps, setBitsPerPixel(look), kbps),
        remedies: [{ label: formatKbps(kbps), change: setEncode(look.recipe, { bitrateKbps: kbps }) }],
      };
    },
  },
  {
    id: 'constant-bitrate-waste',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (look.recipe.encode.rateControl !== 'constant-bitrate' || !look.facts.quality) return null;
      const quality = onOwnScale(look, 20);
      return {
        ...encodeTexts.constantBitrateWaste,
        remedies: [
          {
            label: `Constant quality ${quality}`,
            change: setEncode(look.recipe, { rateControl: 'constant-quality', quality }),
          },
        ],
      };
    },
  },
  {
    id: 'lossless-to-publish',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (
        look.recipe.encode.rateControl !== 'lossless' ||
        look.brief.purpose === 'master' ||
        look.brief.destination === 'archive'
      )
        return null;
      const change = look.facts.quality
        ? setEncode(look.recipe, { rateControl: 'constant-quality', quality: onOwnScale(look, 18) })
        : setEncode(withEncoder(look.recipe, 'avc-software'), { rateControl: 'constant-quality', quality: 18 });
      return {
        ...encodeTexts.losslessToPublish,
        remedies: [{ label: 'Constant quality 18', change }],
      };
    },
  },
  {
    id: 'all-colours',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { pixels } = look.recipe.encode;
      if ((pixels !== '4:4:4' && pixels !== 'rgb') || look.brief.purpose === 'master') return null;
      return {
        ...encodeTexts.allColours(pixels),
        remedies: [{ label: 'Use 4:2:0', change: setEncode(look.recipe, { pixels: '4:2:0' }) }],
      };
    },
  },
  {
    id: 'ten-bits',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { pixels, encoder } = look.recipe.encode;
      if (pixels !== '4:2:0-10') return null;
      return {
        ...encodeTexts.tenBits(encoderFacts[encoder].standard),
        remedies: [{ label: 'Use 8 bits', change: setEncode(look.recipe, { pixels: '4:2:0' }) }],
      };
    },
  },
  {
    id: 'encoder-priority',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { priority } = look.recipe;
      if (priority === 'usual' || look.facts.place !== 'software') return null;
      return {
        ...encodeTexts.priority[priority],
        remedies: [{ label: 'Let the system decide', change: { ...look.recipe, priority: 'usual' } }],
      };
    },
  },
  {
    id: 'colours-not-there',
    station: 'encode',
    weight: 'note',
    check(look) {
      const { source, encode } = look.recipe;
      if (isGrabbed(source) || encode.pixels.startsWith('4:2:0') || look.brief.purpose !== 'master') return null;
      return {
        ...encodeTexts.coloursNotThere,
        remedies: [],
      };
    },
  },
];
