import { FFmpegError } from 'node-av/lib';

/**
 * Sets options by name on a native object. Unknown names are errors here; passed as a dictionary to the opening call they
 * would be accepted in silence, and the dictionary would be freed twice by the binding.
 */
export function setOptions(
  target: { setOption(name: string, value: string): number },
  options: Readonly<Record<string, string>>,
): void {
  for (const [name, value] of Object.entries(options))
    FFmpegError.throwIfError(target.setOption(name, value), `option ${name}`);
}
