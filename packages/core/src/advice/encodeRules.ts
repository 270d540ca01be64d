import { encoderFacts, encoderWords, withEncoder } from '../codec';
import { formatFps, formatKbps, formatMs, formatPercent } from '../units';
import { onAvcScale, onOwnScale, setEncode, type Rule } from './rule';
import { blocksThatWork, isQuality, isSetRate, setBitsPerPixel, kbpsAt } from './look';

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
        title: `${encoderWords(look.recipe.encode.encoder)} does not work on ${look.machine?.name ?? 'this machine'}`,
        text: `The test encode said: ${state.reason ?? 'nothing'}. No take can be made with it.`,
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
        title: 'An encoder block stands idle',
        text: `${encoderWords(block)} works here and leaves the processor to the game. Against it: by the rate model a block needs more bits for the same picture, and a card that is full makes frames late.`,
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
        title: 'The game takes all of the card',
        text: `Without a cap it draws ${formatFps(look.game.facts.freeFps)} and leaves the block's share late.`,
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
        title: `Encode needs ${formatMs(load.busiest)} of ${formatMs(load.budget)} in the busiest 1 %`,
        text:
          load.usual > load.budget
            ? 'It falls behind all the time: about one frame in ' +
              Math.max(2, Math.round(1 / (1 - load.budget / load.usual))) +
              ' is lost.'
            : 'It falls behind in busy passages; what its queue cannot hold is lost.',
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
        title: `Quality ${look.recipe.encode.quality} is finer than can be seen`,
        text: `At ${quality} viewers cannot tell it from the original, and the file has ${formatPercent(then / now)} of the size. Finer helps only where effects work on it.`,
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
        title: `Quality ${look.recipe.encode.quality} looks ${look.forecast.picture.word}`,
        text: `By the rate model ${look.forecast.bits.value > 0 ? formatKbps(look.forecast.bits.value / 1000) : 'this'} cannot hold what moves here, and no later step brings the detail back.`,
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
        title: `${formatKbps(look.recipe.encode.bitrateKbps)} are ${setBitsPerPixel(look).toFixed(3)} bits a pixel`,
        text: `The picture is expected to be ${look.forecast.picture.word}: busy scenes ask for more bits than this leaves them.`,
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
        title: `${formatKbps(look.recipe.encode.bitrateKbps)} are ${setBitsPerPixel(look).toFixed(2)} bits a pixel`,
        text: `${formatKbps(kbps)} are 0.20 bits a pixel and expected to look the same; the rest only fills the drive.`,
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
        title: 'A constant bitrate fills quiet scenes with nothing',
        text: 'Still menus take as much as fights. Constant quality follows the content; the size is less foreseeable.',
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
        title: 'Lossless is several times larger than can be seen',
        text: 'It is best for effects and costs the game least with a fast drive; for showing, 18 cannot be told from it.',
        remedies: [{ label: 'Constant quality 18', change }],
      };
    },
  },
  {
    id: 'all-colours',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (look.recipe.encode.pixels === '4:2:0' || look.brief.purpose === 'master') return null;
      return {
        title: `${look.recipe.encode.pixels === 'rgb' ? 'Full RGB' : '4:4:4'} is half to twice the data more`,
        text: 'Destinations show 4:2:0, and few players and editors open more. It helps keying and small coloured text.',
        remedies: [{ label: 'Use 4:2:0', change: setEncode(look.recipe, { pixels: '4:2:0' }) }],
      };
    },
  },
  {
    id: 'colours-not-there',
    station: 'encode',
    weight: 'note',
    check(look) {
      if (look.recipe.encode.pixels === '4:2:0' || look.brief.purpose !== 'master') return null;
      return {
        title: 'The practice game draws 4:2:0',
        text: 'More colour samples than the source has are only copies. With a real game they are the game’s own.',
        remedies: [],
      };
    },
  },
];
