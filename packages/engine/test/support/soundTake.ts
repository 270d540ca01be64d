import type { Lane, SoundInput, SoundSource } from '@mellow/model';
import type { MadeTake, TakeBench } from './drivenTake';

/** A device that is heard as it is, unless `change` says otherwise. */
export const device = (id: SoundSource, name: string, change: Partial<SoundInput> = {}): SoundInput => ({
  id,
  name: id,
  from: { kind: 'device', device: name, words: '' },
  gainDb: 0,
  muted: false,
  opening: 'open',
  ...change,
});
export const lane = (name: string, ...sources: SoundSource[]): Lane => ({
  name,
  sources,
  codec: 'flac',
  bitrateKbps: 160,
});

/** A PC that let nobody run for longer than blocks are waited for: the take says so itself, and tells nothing of what is tried. */
const disturbed = ({ result }: MadeTake): boolean =>
  result.sounds.some(({ rateHz, away, silenceS }) => rateHz > 0 && away === 0 && silenceS > 0.05);

/** Rolls with sounds from outside; anew, twice at most, where the PC disturbed it. */
export const rollSounds = (...asked: Parameters<typeof rollSoundsOnce>): Promise<MadeTake> =>
  undisturbed(() => rollSoundsOnce(...asked));

/** Rolls up to three times, until the PC has let every sound come through. */
export async function undisturbed(roll: () => Promise<MadeTake>): Promise<MadeTake> {
  for (let again = 2; ; again--) {
    const take = await roll();
    if (again === 0 || !disturbed(take)) return take;
  }
}

/** Rolls the practice game's pictures with sounds from outside. */
export function rollSoundsOnce(
  bench: TakeBench,
  inputs: SoundInput[],
  lanes: Lane[],
  seconds = 3,
  meanwhile?: (atS: number) => void,
  leadIn: 'none' | 'silence' | 'mark' = 'none',
): Promise<MadeTake> {
  const stop = bench.recorder().onEvent((event) => {
    if (event.type === 'live' && event.live.state === 'rolling') meanwhile?.(event.live.elapsedUs / 1e6);
  });
  return bench
    .make({
      recipe: { rate: { num: 30, den: 1 }, sounds: inputs, lanes, leadIn },
      size: { widthPx: 320, heightPx: 180 },
      game: { widthPx: 320, heightPx: 180 },
      order: { clock: 'real', dueFrames: seconds * 30 },
    })
    .finally(stop);
}
