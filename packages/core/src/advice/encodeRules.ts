import { isGrabbed, type Recipe } from '@mellow/model';
import { encoderFacts, encoderWords, withEncoder, type QualityWord } from '../codec';
import { formatFps, formatKbps } from '../units';
import { setEncode } from '../recipe/change';
import { onAvcScale, onOwnScale, type Look, type Rule } from './rule';
import { overloadOf, blocksThatWork, isQuality, isSetRate, setBitsPerPixel } from './look';
import { coarsestFor, leastKbpsFor } from './sameLook';
import { encodeTexts } from './encodeTexts';

/** A number finer by so many steps of AVC's scale than what looks the same is worth a word; a bitrate so many times as high, too. */
const noticedSteps = 3;
const wastefulTimes = 2;
const mostCeilingKbps = 600_000;
const isPoor = (word: QualityWord): boolean => word === 'soft' || word === 'blocky';
/** Another bitrate, under a ceiling as far above it as before. */
const withKbps = ({ recipe }: Look, bitrateKbps: number): Recipe =>
  setEncode(recipe, {
    bitrateKbps,
    ceilingKbps: Math.max(
      bitrateKbps,
      Math.min(mostCeilingKbps, Math.round((bitrateKbps * recipe.encode.ceilingKbps) / recipe.encode.bitrateKbps)),
    ),
  });

/** Encoder, effort and rate control. */
export const encodeRules: Rule[] = [
  {
    id: 'encoder-not-here',
    station: 'encode',
    weight: 'stops',
    check(look) {
      const state = look.machine?.encoders.find((e) => e.encoder === look.recipe.encode.encoder);
      if (!state || state.works) return null;
      const blocks = blocksThatWork(look).filter(
        (e) => look.brief.editor !== 'old' || encoderFacts[e].standard === 'AVC',
      );
      // Of the same standard first, then the one that most open; software shares the processor with the game.
      const other =
        blocks.find((e) => encoderFacts[e].standard === look.facts.standard) ??
        blocks.find((e) => encoderFacts[e].standard === 'AVC') ??
        blocks[0] ??
        'avc-software';
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
      const { quality: now } = look.recipe.encode;
      if (!isQuality(look) || look.brief.purpose === 'master') return null;
      const enough = coarsestFor(look, 'cannot be told apart');
      if (enough === null || onAvcScale(look, enough) - onAvcScale(look, now) < noticedSteps) return null;
      const then = look.forecastOf(setEncode(look.recipe, { quality: enough })).bits.value;
      return {
        ...encodeTexts.qualityTooFine({ quality: now, enough, then, now: look.forecast.bits.value }),
        remedies: [{ label: `Quality ${enough}`, change: setEncode(look.recipe, { quality: enough }) }],
      };
    },
  },
  {
    id: 'quality-coarse',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { word } = look.forecast.picture;
      if (!isQuality(look) || !isPoor(word)) return null;
      const quality = coarsestFor(look, 'clear');
      return {
        ...encodeTexts.qualityCoarse(look.recipe.encode.quality, word, look.forecast.bits.value),
        remedies:
          quality === null ? [] : [{ label: `Quality ${quality}`, change: setEncode(look.recipe, { quality }) }],
      };
    },
  },
  {
    id: 'bitrate-low',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { word } = look.forecast.picture;
      if (!isSetRate(look) || !isPoor(word)) return null;
      const kbps = leastKbpsFor(look, 'clear');
      return {
        ...encodeTexts.bitrateLow(look.recipe.encode.bitrateKbps, setBitsPerPixel(look), word),
        remedies: kbps === null ? [] : [{ label: formatKbps(kbps), change: withKbps(look, kbps) }],
      };
    },
  },
  {
    id: 'bitrate-high',
    station: 'encode',
    weight: 'cost',
    check(look) {
      const { bitrateKbps } = look.recipe.encode;
      if (!isSetRate(look) || look.brief.purpose === 'master') return null;
      const kbps = leastKbpsFor(look, 'cannot be told apart');
      if (kbps === null || bitrateKbps < kbps * wastefulTimes) return null;
      return {
        ...encodeTexts.bitrateHigh(bitrateKbps, setBitsPerPixel(look), kbps),
        remedies: [{ label: formatKbps(kbps), change: withKbps(look, kbps) }],
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
      const numbered = look.facts.quality ? look.recipe : withEncoder(look.recipe, 'avc-software');
      const quality = coarsestFor(look, 'cannot be told apart', numbered);
      if (quality === null) return null;
      const change = setEncode(numbered, { rateControl: 'constant-quality', quality });
      const share = look.forecastOf(change).bits.value / look.forecast.bits.value;
      return {
        ...encodeTexts.losslessToPublish(quality, share),
        remedies: [{ label: `Constant quality ${quality}`, change }],
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
