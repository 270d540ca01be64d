import { heardDevice, microphoneDevice, type SoundDevice, type SoundDevices, type SoundFrom } from '@mellow/model';

/** The device a sound comes from now; null where it is none, or not there. */
export function deviceOf(from: SoundFrom, { devices }: Pick<SoundDevices, 'devices'>): SoundDevice | null {
  if (from.kind !== 'device') return null;
  const microphones = devices.filter(({ kind }) => kind === 'microphone');
  if (from.device === microphoneDevice) return microphones.find(({ usual }) => usual) ?? microphones[0] ?? null;
  if (from.device === heardDevice) return devices.find(({ kind, usual }) => kind === 'output' && usual) ?? null;
  return devices.find(({ device }) => device === from.device) ?? null;
}
