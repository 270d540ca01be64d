/** EBUSY, as the C library's strerror, FFmpeg's av_strerror and PulseAudio word it; Windows' AUDCLNT_E_DEVICE_IN_USE. */
const taken = /resource busy|\bEBUSY\b|device (?:is )?(?:already )?in use|0x8889000a/i;
/** EIO: all that FFmpeg's dshow tells where a graph does not run ("sometimes caused by a device already in use", dshow.c). */
const refused = /\bi\/o error|input\/output error/i;

const release: Partial<Record<NodeJS.Platform, string>> = {
  win32: 'Close it there, or take exclusive use off in the system’s sound panel: the device’s properties, Advanced.',
  linux: 'Close it there, or let it play and record through the sound service instead of the device itself.',
};

/**
 * Why a sound device is not heard, in words that say what to do where another program keeps it to itself.
 * @param told what the system or the library told when it was opened
 */
export function whyNotHeard(platform: NodeJS.Platform, told: string): string {
  const remedy = release[platform] ?? 'Close it there; it is opened again by itself.';
  if (taken.test(told)) return `Another program keeps the device to itself. ${remedy}`;
  if (platform === 'win32' && refused.test(told))
    return `The device does not begin: it is unplugged, or another program keeps it to itself. ${remedy}`;
  return told;
}
