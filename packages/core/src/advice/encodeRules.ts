import { encoders, type EncoderName } from '@mellow/model';
import { bitsPerPixel } from '../storage';
import { bitrateByArea, sideBySide } from '../picture';
import { encoderFacts, encoderWords, withEncoder } from '../codec';
import { formatFps, formatKbps, formatMs, formatPercent, formatSize } from '../units';
import { onAvcScale, onOwnScale, setEncode, type Look, type Rule } from './rule';

const works = ({ machine }: Look, encoder: EncoderName): boolean =>
  machine?.encoders.some((e) => e.encoder === encoder && e.works) ?? false;
const blocksThatWork = (look: Look): EncoderName[] =>
  encoders.filter((encoder) => encoderFacts[encoder].place !== 'software' && works(look, encoder));
const isQuality = ({ recipe }: Look): boolean => recipe.encode.rateControl === 'constant-quality';
const isSetRate = ({ recipe }: Look): boolean =>
  recipe.encode.rateControl === 'constant-bitrate' || recipe.encode.rateControl === 'variable-bitrate';
const setBitsPerPixel = ({ recipe }: Look): number =>
  bitsPerPixel(recipe.encode.bitrateKbps * 1000, recipe.size.widthPx, recipe.size.heightPx, recipe.rate);
const kbpsAt = ({ recipe, fps }: Look, perPixel: number): number =>
  Math.max(100, Math.round((perPixel * recipe.size.widthPx * recipe.size.heightPx * fps) / 500_000) * 500);
const keySeconds = ({ recipe, fps }: Look): number => recipe.encode.keyDistanceFrames / fps;

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
