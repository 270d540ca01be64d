import { cameraSchema, type Calibration, type Camera, type Recipe, type SoundInput, type Source } from '@mellow/model';
import type { ForecastContext } from '../forecast';
import { testContext, type ContextChange } from '../forecast/testContext.test-support';

export const camera =
  (part: Partial<Camera>) =>
  (recipe: Recipe): Recipe => ({ ...recipe, camera: cameraSchema.parse({ from: { kind: 'stand-in' }, ...part }) });

export const encode =
  (part: Partial<Recipe['encode']>) =>
  (r: Recipe): Recipe => ({ ...r, encode: { ...r.encode, ...part } });
export const size =
  (widthPx: number, heightPx: number, part: Partial<Recipe['size']> = {}) =>
  (r: Recipe): Recipe => ({ ...r, size: { ...r.size, widthPx, heightPx, ...part } });
export const rate =
  (num: number, den = 1) =>
  (r: Recipe): Recipe => ({ ...r, rate: { num, den } });
export const lanes =
  (...codecs: Recipe['lanes'][number]['codec'][]) =>
  (r: Recipe): Recipe => ({
    ...r,
    lanes: codecs.map((codec, i) => ({
      name: `L${i}`,
      sources: i ? ['voice'] : ['game', 'voice', 'chat'],
      codec,
      bitrateKbps: 160,
    })),
  });
export const drive =
  (driveId: string) =>
  (r: Recipe): Recipe => ({ ...r, driveId });
export const software = encode({ encoder: 'avc-software', effort: 'lightest' });
export const drives = (
  change: (d: ForecastContext['drives'][number]) => ForecastContext['drives'][number],
  facts: ContextChange['facts'] = {},
): ContextChange => ({ facts, context: { drives: testContext().drives.map(change) } });
export const trialLoads = (part: Partial<Calibration['loads'][number]> = {}): ContextChange => {
  const recipe = testContext().start;
  return {
    context: {
      calibration: {
        rates: [],
        errors: [],
        madeOn: null,
        loads: [
          {
            trial: 3,
            recipe,
            gameSize: { widthPx: 1920, heightPx: 1080 },
            cores: 8,
            stations: { game: null, capture: null, size: null, encode: null, pack: null, drive: null },
            gameProcessorUs: null,
            gameFpsWithout: null,
            othersCores: 0.1,
            ...part,
          },
        ],
      },
    },
  };
};
export const desk: SoundInput = {
  id: 'voice',
  name: 'Desk microphone',
  from: { kind: 'device', device: 'desk', words: 'Desk microphone' },
  gainDb: 0,
  muted: false,
  opening: 'open',
};
/** The voice comes from there. */
export const heard =
  (sound: SoundInput) =>
  (r: Recipe): Recipe => ({ ...r, sounds: r.sounds.map((one) => (one.id === sound.id ? sound : one)) });
export type Case = [ContextChange, ...((r: Recipe) => Recipe)[]];

export const display: Source = {
  kind: 'display',
  name: 'DP-1',
  ...{ leftPx: 0, topPx: 0, widthPx: 1920, heightPx: 1080 },
  pointer: true,
};
export const windowOf: Source = { ...display, kind: 'window', windowId: 7, title: 'Oil Street', whenClosed: 'end' };
/** Records from there, without the sound that it does not have. */
export const from =
  (source: Source) =>
  (r: Recipe): Recipe => ({ ...r, source, lanes: [] });
