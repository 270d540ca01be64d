import { errorText } from '@mellow/core';
import type { SoundDevices } from '@mellow/model';
import { askPulse, pulseDevices } from './pulseList';

/** What can be heard on this PC by the system's own service; null where the library's devices have to be asked instead. */
export async function listSounds(platform: NodeJS.Platform = process.platform): Promise<SoundDevices | null> {
  if (platform !== 'linux') return null;
  try {
    return pulseDevices(await askPulse());
  } catch (error) {
    const trouble = errorText(error);
    return { trouble, by: 'pulse', devices: [], programs: [] };
  }
}
