import { cameraSchema, type Camera, type CameraWhere, type Recipe } from '@mellow/model';
import { cameraPart, encodeForBoth, filedSize } from '../picture';
import { isQuality, isSetRate } from './look';
import { cameraTexts } from './cameraTexts';
import { setEncode } from '../recipe/change';
import type { Look, RemedyOffer, Rule } from './rule';
import { formatKbps } from '../units';

const placed = ({ recipe }: Look, camera: Camera, where: CameraWhere): Recipe => ({
  ...recipe,
  camera: { ...camera, where },
});

/** What a picture twice as wide asks of the encoder, as long as it is set as the setup began. */
function forBoth({ recipe, context, ...look }: Look): RemedyOffer[] {
  const { encode } = recipe;
  const start = context.start?.encode;
  const next = encodeForBoth(encode, look.game.facts.motion === 'fast');
  if (!start) return [];
  const here = { recipe, context, ...look };
  if (isSetRate(here) && encode.bitrateKbps <= start.bitrateKbps) {
    const { bitrateKbps, ceilingKbps } = next;
    return [{ label: `Use ${formatKbps(bitrateKbps)}`, change: setEncode(recipe, { bitrateKbps, ceilingKbps }) }];
  }
  if (isQuality(here) && encode.quality >= start.quality && next.quality < encode.quality)
    return [{ label: `Use quality ${next.quality}`, change: setEncode(recipe, { quality: next.quality }) }];
  return [];
}

/** "lower right", as a person sees it. */
function placeWords(left: number, top: number): string {
  const side = left < 0.33 ? 'left' : left < 0.67 ? 'in the middle' : 'right';
  const level = top < 0.33 ? 'above' : top < 0.67 ? 'half way down' : 'below';
  return `${level}, ${side}`;
}

export const cameraRules: Rule[] = [
  {
    id: 'camera-wanted',
    station: 'size',
    weight: 'note',
    check(look) {
      const { camera: wanted } = look.brief;
      if ((wanted !== 'over' && wanted !== 'beside') || look.recipe.camera) return null;
      const label = wanted === 'over' ? 'Lay one over the game' : 'Put one beside the game';
      const camera = cameraSchema.parse({ from: { kind: 'stand-in' } });
      return { ...cameraTexts.wanted(wanted), remedies: [{ label, change: placed(look, camera, wanted) }] };
    },
  },
  {
    id: 'camera-over',
    station: 'size',
    weight: 'cost',
    check(look) {
      const { camera } = look.recipe;
      const part = cameraPart(look.recipe);
      if (camera?.where !== 'over' || !part) return null;
      const { widthPx, heightPx } = filedSize(look.recipe);
      const [middle, level] = [(part.leftPx + part.widthPx / 2) / widthPx, (part.topPx + part.heightPx / 2) / heightPx];
      return {
        ...cameraTexts.burntIn((part.widthPx * part.heightPx) / (widthPx * heightPx), placeWords(middle, level)),
        remedies: [
          { label: 'Put it beside the game', change: placed(look, camera, 'beside') },
          ...(look.machine?.origin === 'simulated'
            ? []
            : [{ label: 'Give it a file of its own', change: placed(look, camera, 'own-file') }]),
        ],
      };
    },
  },
  {
    id: 'camera-beside',
    station: 'size',
    weight: 'note',
    check(look) {
      if (look.recipe.camera?.where !== 'beside') return null;
      const { widthPx, heightPx } = filedSize(look.recipe);
      return { ...cameraTexts.wide(widthPx, heightPx), remedies: forBoth(look) };
    },
  },
  {
    id: 'camera-stand-in',
    station: 'size',
    weight: 'note',
    check(look) {
      if (look.recipe.camera?.from.kind !== 'stand-in') return null;
      return {
        ...cameraTexts.standIn,
        remedies: [{ label: 'Choose a camera', instruction: 'Cameras of this PC are listed on Path, under Size.' }],
      };
    },
  },
  {
    id: 'camera-of-another',
    station: 'size',
    weight: 'stops',
    check(look) {
      const { camera } = look.recipe;
      if (!camera || look.machine?.origin !== 'simulated') return null;
      if (camera.from.kind === 'stand-in' && camera.where !== 'own-file') return null;
      const stand: Camera = {
        ...camera,
        from: { kind: 'stand-in' },
        where: camera.where === 'own-file' ? 'over' : camera.where,
      };
      return {
        ...cameraTexts.deviceElsewhere(look.machine.name),
        remedies: [{ label: 'Use the stand-in', change: { ...look.recipe, camera: stand } }],
      };
    },
  },
];
