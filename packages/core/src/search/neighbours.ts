import { encoders, onePart, scalingFilters, type EncoderName, type Recipe } from '@mellow/model';
import { encoderFacts, encoderWords, equalQuality, hasQualityNumber, withEncoder } from '../codec';
import type { ForecastContext } from '../forecast';
import { nothingToScale, sizeByLines, sizesBelow } from '../picture';
import { setEncode, setRate, setSize } from '../recipe/change';
import { recipeClashes } from '../recipe/clashes';
import { gameReachFps, ratesFor } from '../recipe/gameReach';
import { keepLocked } from '../recipe/settings';
import { containerWords, effortWords, filterWords, pixelWords } from '../recipe/words';
import { formatFps, formatKbps, formatSize, framesPerSecond, listWords } from '../units';

/** A recipe that differs from another by one change, with the words of a button that makes it. */
export interface Neighbour {
  label: string;
  recipe: Recipe;
}

type Around = Pick<ForecastContext, 'game' | 'brief' | 'machine' | 'drives' | 'locks'>;
type Family = (recipe: Recipe, around: Around) => Neighbour[];

/** Encoders that run here: in software always, a block where it was proven. */
const runsHere = (encoder: EncoderName, { machine }: Around): boolean =>
  encoderFacts[encoder].place === 'software' ||
  (machine?.encoders.some((one) => one.encoder === encoder && one.works) ?? false);

/** "Use HEVC on graphics card, quality 13, effort light": what becomes another with it is said. */
function encoderLabel(from: Recipe, to: Recipe): string {
  const { encoder, quality, effort, rateControl } = to.encode;
  const number = hasQualityNumber(to.encode) && quality !== from.encode.quality;
  const other = effort !== from.encode.effort && encoderFacts[encoder].efforts.length > 0;
  return [
    `Use ${encoderWords(encoder)}`,
    ...(rateControl === 'lossless' ? ['lossless'] : []),
    ...(number ? [`quality ${quality}`] : []),
    ...(other ? [`effort ${effortWords[effort]}`] : []),
  ].join(', ');
}

const isExact = ({ encode }: Recipe): boolean => encode.rateControl === 'lossless';

/** Another encoder at equal SSIM, at the effort that was chosen or at a lighter one; lossless stays lossless. */
const byEncoder: Family = (recipe, around) =>
  encoders
    .filter((encoder) => encoder !== recipe.encode.encoder && runsHere(encoder, around))
    .flatMap((encoder): Neighbour[] => {
      const to = withEncoder(recipe, encoder);
      // Pictures by themselves are for what is read backwards; nobody who records a game means them.
      if (isExact(to) !== isExact(recipe) || encoder === 'mjpeg-software') return [];
      const lighter = encoderFacts[encoder].efforts.filter((effort) => effort === 'lightest' || effort === 'light');
      return [to, ...lighter.map((effort) => setEncode(to, { effort }))].map((one) => ({
        label: encoderLabel(recipe, one),
        recipe: one,
      }));
    });

const byEffort: Family = (recipe) =>
  encoderFacts[recipe.encode.encoder].efforts
    .filter((effort) => effort !== recipe.encode.effort)
    .map((effort) => ({ label: `Effort ${effortWords[effort]}`, recipe: setEncode(recipe, { effort }) }));

/** Lossless given up for a number that effects still stand (AVC 12, or what looks the same). */
const nearlyLossless = 12;
const qualitySteps = [-8, -6, -4, -3, -2, -1, 1, 2, 3, 4, 6, 8] as const;
const byQuality: Family = (recipe) => {
  const { encode } = recipe;
  const facts = encoderFacts[encode.encoder];
  if (isExact(recipe)) {
    const number = setEncode(withEncoder(recipe, 'avc-software'), {
      rateControl: 'constant-quality',
      quality: nearlyLossless,
    });
    return [{ label: `AVC at quality ${nearlyLossless}`, recipe: number }];
  }
  if (!hasQualityNumber(encode) || !facts.quality) return [];
  const onAvc = equalQuality(encode.quality, encode.encoder, 'avc-software');
  const numbers = qualitySteps.map((step) =>
    Math.round(equalQuality(Math.max(0, onAvc + step), 'avc-software', encode.encoder)),
  );
  const usable = new Set(numbers.map((n) => Math.max(1, Math.min(facts.quality?.worst ?? n, n))));
  return [...usable]
    .filter((quality) => quality !== encode.quality)
    .map((quality) => ({ label: `Quality ${quality}`, recipe: setEncode(recipe, { quality }) }));
};

const rateSteps = [0.5, 0.67, 0.75, 0.85, 1.2, 1.35, 1.5, 2, 3, 4] as const;
const byBitrate: Family = (recipe) => {
  const { encode } = recipe;
  if (encode.rateControl !== 'constant-bitrate' && encode.rateControl !== 'variable-bitrate') return [];
  const facts = encoderFacts[encode.encoder];
  const steps = rateSteps.map((step): Neighbour => {
    const bitrateKbps = Math.max(100, Math.min(400_000, Math.round((encode.bitrateKbps * step) / 100) * 100));
    const ceilingKbps = Math.max(bitrateKbps, Math.min(600_000, Math.round(encode.ceilingKbps * step)));
    return { label: formatKbps(bitrateKbps), recipe: setEncode(recipe, { bitrateKbps, ceilingKbps }) };
  });
  return facts.rateControls.includes('constant-quality')
    ? [
        ...steps,
        {
          label: `Constant quality ${encode.quality}`,
          recipe: setEncode(recipe, { rateControl: 'constant-quality' }),
        },
      ]
    : steps;
};

const byFilter: Family = (recipe, { game }) =>
  nothingToScale(game, recipe.size)
    ? []
    : scalingFilters
        .filter((filter) => filter !== recipe.size.filter)
        .map((filter) => ({
          label: `Use the ${filterWords[filter].result} filter (${filterWords[filter].method})`,
          recipe: { ...recipe, size: { ...recipe.size, filter } },
        }));

const bySize: Family = (recipe, { game, brief }) => {
  const shown = sizeByLines(game, Math.min(game.heightPx, brief.shownLines));
  return [...sizesBelow(game), shown]
    .filter(({ widthPx, heightPx }) => widthPx !== recipe.size.widthPx || heightPx !== recipe.size.heightPx)
    .map((size) => ({ label: `File ${formatSize(size.widthPx, size.heightPx)}`, recipe: setSize(recipe, size) }));
};

const byRate: Family = (recipe, { game, brief }) => {
  const reach = gameReachFps(game);
  const fps = framesPerSecond(recipe.rate);
  const { num, den } = recipe.rate;
  const whole = brief.destination === 'broadcaster' ? [] : ratesFor(brief).map((rate) => [rate, 1] as const);
  const half = num % 2 === 0 ? ([num / 2, den] as const) : ([num, den * 2] as const);
  return (
    [...whole, ...(fps >= 48 ? [half] : [])]
      .filter(([n, d]) => Math.abs(n / d - fps) > 0.01)
      // What nobody is shown, or the game does not draw, no file has to hold; slow motion is there for it.
      .filter(([n, d]) => brief.purpose === 'slow-motion' || n / d < fps || n / d <= brief.shownFps)
      .filter(([n, d]) => reach === null || n / d < fps || n / d <= reach)
      .filter(([n, d]) => brief.purpose !== 'slow-motion' || n / d >= brief.shownFps)
      .map(([n, d]) => ({ label: `File ${formatFps(n / d)}`, recipe: setRate(recipe, n, d) }))
  );
};

const byKeys: Family = (recipe) => {
  if (!encoderFacts[recipe.encode.encoder].keyDistance) return [];
  return [0.5, 2].flatMap((seconds): Neighbour[] => {
    const keyDistanceFrames = Math.max(1, Math.round(framesPerSecond(recipe.rate) * seconds));
    return keyDistanceFrames === recipe.encode.keyDistanceFrames
      ? []
      : [{ label: `A key picture every ${seconds} s`, recipe: setEncode(recipe, { keyDistanceFrames }) }];
  });
};

const byBFrames: Family = (recipe) => {
  const most = encoderFacts[recipe.encode.encoder].mostBFrames;
  return [0, Math.min(2, most)]
    .filter((bFrames, i, all) => bFrames !== recipe.encode.bFrames && all.indexOf(bFrames) === i)
    .map((bFrames) => ({
      label: bFrames ? `${bFrames} B-frames` : 'No B-frames',
      recipe: setEncode(recipe, { bFrames }),
    }));
};

const byPixels: Family = (recipe) =>
  recipe.encode.pixels === '4:2:0'
    ? []
    : [{ label: pixelWords['4:2:0'], recipe: setEncode(recipe, { pixels: '4:2:0' }) }];

const byLanes: Family = (recipe) => {
  const { lanes } = recipe;
  const neighbours: Neighbour[] = [];
  if (lanes.length > 1) {
    // The first lane holds everything, so one alone loses nothing that is heard.
    neighbours.push({ label: 'One sound lane', recipe: { ...recipe, lanes: lanes.slice(0, 1) } });
  }
  if (lanes.some(({ codec }) => codec === 'pcm' || codec === 'flac'))
    neighbours.push({
      label: 'Sound as AAC',
      recipe: { ...recipe, lanes: lanes.map((lane) => ({ ...lane, codec: 'aac' as const })) },
    });
  return neighbours;
};

const byDrive: Family = (recipe, { drives }) => {
  const usable = drives.filter(({ problem, freeBytes }) => problem === null && freeBytes !== null);
  const others = usable.filter(({ id }) => id !== recipe.driveId);
  const alone = others.map((drive) => ({ label: `Use ${drive.name}`, recipe: { ...recipe, driveId: drive.id } }));
  const next = others
    .filter(({ id }) => recipe.parts.by !== 'striped' && !recipe.nextDriveIds.includes(id))
    .map((drive) => ({
      label: `Go on in ${drive.name}`,
      recipe: { ...recipe, nextDriveIds: [...recipe.nextDriveIds, drive.id] },
    }));
  const fast = usable.filter(({ writeBytesPerSecond }) => writeBytesPerSecond !== null);
  const striped: Neighbour[] =
    fast.length > 1 && recipe.parts.by !== 'striped' && fast.some(({ id }) => id === recipe.driveId)
      ? [
          {
            label: `Stripe over ${listWords(fast.slice(0, 4).map(({ name }) => name))}`,
            recipe: {
              ...recipe,
              nextDriveIds: fast
                .slice(0, 4)
                .map(({ id }) => id)
                .filter((id) => id !== recipe.driveId),
              parts: { by: 'striped', shares: 'by-speed' },
              container: recipe.container === 'mp4' ? 'fragmented-mp4' : recipe.container,
            },
          },
        ]
      : [];
  const whole: Neighbour[] =
    recipe.parts.by === 'striped'
      ? [{ label: 'One file on one drive', recipe: { ...recipe, parts: onePart, nextDriveIds: [] } }]
      : [];
  return [...alone, ...next, ...striped, ...whole];
};

const byContainer: Family = (recipe) => {
  const types = (['matroska', 'fragmented-mp4'] as const)
    .filter((container) => container !== recipe.container)
    .map((container) => ({ label: `Use ${containerWords[container].name}`, recipe: { ...recipe, container } }));
  const copy: Neighbour =
    recipe.rewrap && !recipe.discardSource
      ? { label: 'Make no MP4 afterwards', recipe: { ...recipe, rewrap: false } }
      : { label: 'Make an MP4 afterwards', recipe: { ...recipe, rewrap: true } };
  return [...types, copy];
};

const families: readonly Family[] = [
  byEncoder,
  byEffort,
  byQuality,
  byBitrate,
  byFilter,
  bySize,
  byRate,
  byKeys,
  byBFrames,
  byPixels,
  byLanes,
  byDrive,
  byContainer,
];

/**
 * Every recipe that is one sensible change away, of those that the model can tell apart (it says nothing of priorities): what is locked stays, what cannot be recorded is left out, and two changes that come
 * to the same are one.
 */
export function neighbours(recipe: Recipe, around: Around): Neighbour[] {
  const seen = new Set([JSON.stringify(recipe)]);
  return families
    .flatMap((family) => family(recipe, around))
    .flatMap(({ label, recipe: changed }): Neighbour[] => {
      const allowed = keepLocked(recipe, changed, around.locks);
      const key = JSON.stringify(allowed);
      // A change of which a part is locked is not what its label says.
      if (key !== JSON.stringify(changed) || seen.has(key)) return [];
      seen.add(key);
      return recipeClashes(allowed).some(({ weight }) => weight === 'stops') ? [] : [{ label, recipe: allowed }];
    });
}
