/** A native object that the library must have; its absence is an error with a name. */
export function requireNative<T>(value: T | null | undefined, name: string): T {
  if (value === null || value === undefined) throw new Error(`The FFmpeg libraries have no ${name}.`);
  return value;
}
