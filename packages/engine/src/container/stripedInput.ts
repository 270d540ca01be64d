import { IOContext, type FormatContext } from 'node-av/lib';
import { openStripes } from './stripesList';

const bufferBytes = 1 << 18;
/** What the library asks for: how large it is, or from where to count. */
const [SIZE, FORCE, CURRENT, END] = [0x10000, 0x20000, 1, 2] as const;

/** Opens stripes as one file; closing the input closes them. @returns the library's code */
export function openStripedInput(context: FormatContext, list: string): number {
  const stripes = openStripes(list);
  const io = new IOContext();
  let position = 0;
  const read = (most: number): Buffer | null => {
    const into = Buffer.allocUnsafe(most);
    const count = stripes.read(into, position);
    position += count;
    return count > 0 ? into.subarray(0, count) : null;
  };
  const seek = (offset: bigint, whence: number): bigint => {
    if (whence & SIZE) return BigInt(stripes.bytes);
    const from = whence & ~FORCE;
    position = Number(offset) + (from === CURRENT ? position : from === END ? stripes.bytes : 0);
    return BigInt(position);
  };
  io.allocContextWithCallbacks(bufferBytes, 0, read, null, seek);
  context.allocContext();
  context.pb = io;
  const closeInput = context.closeInputSync.bind(context);
  context.closeInputSync = () => {
    closeInput();
    io.freeContext();
    stripes.close();
  };
  return context.openInputSync('', null, null);
}
