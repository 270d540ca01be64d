import { kernelBase64 } from './cathedralKernelBytes';
import type { CathedralTextures } from './cathedralTextures';
import { columnsOver, type Columns } from './cathedralView';

/** What kernels/cathedral.ts offers; its arguments are described there. */
interface Kernel {
  tables(...args: number[]): void;
  places(...args: number[]): void;
  paintLuma(...args: number[]): void;
  paintColours(y: number, above: number): void;
  repeatColours(y: number): void;
}

/** What is used of WebAssembly: types of it come only with those of a browser. */
interface WebAssemblyHere {
  Memory: new (size: { initial: number; maximum: number }) => { readonly buffer: ArrayBuffer };
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: { env: { memory: object } }) => { exports: object };
}
const { WebAssembly: wasm } = globalThis as unknown as { WebAssembly: WebAssemblyHere };
const pageBytes = 65536;
/** Tables and planes begin at whole lines of the cache. */
const alignment = 64;
/** A line is read, and a plane written, up to so many bytes beyond its end. */
const slackBytes = 64;

/** Tables that stay the same from picture to picture. */
export interface PainterTables extends Pick<CathedralTextures, 'ground' | 'wallLuma' | 'wallU' | 'wallV'> {
  /** Luma by step of darkness and texel. */
  darkened: Uint8Array;
  /** Colour by step of darkness and texel. */
  colours: Uint8Array;
  grain: Uint8Array;
}

/** A kernel over a memory of its own, with all it reads and what it paints. */
export interface PainterMemory {
  kernel: Kernel;
  columns: Columns;
  /** The picture as it is painted. */
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

export function openPainterMemory(widthPx: number, heightPx: number, tables: PainterTables): PainterMemory {
  const half = widthPx >> 1;
  let end = 1024;
  const take = (bytes: number): number => {
    const at = end;
    end += Math.ceil((bytes + slackBytes) / alignment) * alignment;
    return at;
  };
  const { ground, wallLuma, wallU, wallV, darkened, colours, grain } = tables;
  const wallColours = Uint8Array.from({ length: 2 * wallU.length }, (_, i) => (i % 2 ? wallV : wallU)[i >> 1] ?? 0);
  const read = [ground, wallLuma, wallColours, darkened, colours, grain].map((table) => ({
    table,
    at: take(table.length),
  }));
  const edges = take(2 * half * 4);
  const [startTexel, texelsPerRow, texel, shade] = [take(half * 4), take(half * 4), take(half * 4), take(half * 4)];
  const line = take(half);
  const [y, u, v] = [take(widthPx * heightPx), take((half * heightPx) / 2), take((half * heightPx) / 2)];
  const pages = Math.ceil(end / pageBytes);
  const memory = new wasm.Memory({ initial: pages, maximum: pages });
  const bytes = new Uint8Array(memory.buffer);
  for (const { table, at } of read) bytes.set(table, at);
  const kernel = new wasm.Instance(new wasm.Module(bytesOf(kernelBase64)), { env: { memory } }).exports as Kernel;
  kernel.tables(widthPx, ...read.map(({ at }) => at));
  kernel.places(edges, startTexel, texelsPerRow, texel, shade, line, y, u, v);
  return {
    kernel,
    columns: columnsOver(memory.buffer, half, { edges, startTexel, texelsPerRow, texel, shade }),
    y: bytes.subarray(y, y + widthPx * heightPx),
    u: bytes.subarray(u, u + (half * heightPx) / 2),
    v: bytes.subarray(v, v + (half * heightPx) / 2),
  };
}

/** Base64 as browsers and Node both read it. */
function bytesOf(base64: string): Uint8Array {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}
