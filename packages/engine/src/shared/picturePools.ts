import type { Recipe } from '@mellow/model';
import { createPictureMemory } from '../convert/pixelConverter';
import type { PixelLayout } from '../native/pixelLayout';
import type { ConversionRoom } from '../size/sizer';
import { betweenLayout, sizingWay } from '../size/sizingWay';
import { createSlotPoolMemory, slotPoolBytes, type SlotPoolMemory } from './slotPool';

interface PoolSize {
  slots: number;
  layout: PixelLayout;
}

/** As much as WebAssembly addresses. */
const mostBytes = 65536 * 65536;
/** The scaler may read and write a few bytes past the last line. */
const slackBytes = 4096;
const alignment = 64;
const aligned = (bytes: number): number => Math.ceil(bytes / alignment) * alignment;

/**
 * The pictures of a take as they come from the source and as the encoder takes them. Where one is converted into the
 * other they lie in one memory, with the picture between that two steps need. @param sized null: they are the same
 */
export function createPicturePools(
  source: PoolSize,
  sized: PoolSize | null,
  recipe: Recipe,
): { sourcePool: SlotPoolMemory; sizedPool: SlotPoolMemory | null; conversion: ConversionRoom | null } {
  const apart = () => ({
    sourcePool: createSlotPoolMemory(source.slots, source.layout),
    sizedPool: sized && createSlotPoolMemory(sized.slots, sized.layout),
    conversion: null,
  });
  const way = sized && sizingWay(source.layout, sized.layout, recipe);
  if (!sized || !way || way === 'scaled') return apart();
  const sizedAt = aligned(slotPoolBytes(source.slots, source.layout));
  const betweenAt = aligned(sizedAt + slotPoolBytes(sized.slots, sized.layout));
  const bytes = betweenAt + (betweenLayout(source.layout, sized.layout, recipe, way)?.bytes ?? 0) + slackBytes;
  if (bytes > mostBytes) return apart();
  const memory = createPictureMemory(bytes);
  const pixels = memory.buffer;
  return {
    sourcePool: createSlotPoolMemory(source.slots, source.layout, { pixels, startBytes: 0 }),
    sizedPool: createSlotPoolMemory(sized.slots, sized.layout, { pixels, startBytes: sizedAt }),
    conversion: { memory, betweenAt },
  };
}
