/** Kinds of plain samples that devices bring, all little-endian. */
export type PcmKind = 's16' | 's24' | 's32' | 'f32' | 'f64';
const bytesOf: Record<PcmKind, number> = { s16: 2, s24: 3, s32: 4, f32: 4, f64: 8 };

/** Plain samples as -1..1. */
export function samplesOfPcm(data: Uint8Array, kind: PcmKind): Float32Array {
  // Copied as they are: read one by one, each would be a number that is garbage at once.
  if (kind === 'f32') {
    const bytes = new Uint8Array(data.byteLength - (data.byteLength % 4));
    bytes.set(data.subarray(0, bytes.length));
    return new Float32Array(bytes.buffer);
  }
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const size = bytesOf[kind];
  const samples = new Float32Array(Math.floor(data.byteLength / size));
  const value: Record<Exclude<PcmKind, 'f32'>, (at: number) => number> = {
    s16: (at) => view.getInt16(at, true) / 0x8000,
    s24: (at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 0x1_0000) / 0x80_0000,
    s32: (at) => view.getInt32(at, true) / 0x8000_0000,
    f64: (at) => view.getFloat64(at, true),
  };
  const read = value[kind];
  for (let i = 0; i < samples.length; i++) samples[i] = read(i * size);
  return samples;
}
