import { createClient, type X11Client, type X11Composite, type X11Randr } from 'x11';
import { errorText } from '@mellow/core';

/** A connection to the X server (X Window System Protocol, X Version 11). */
export interface X11Connection {
  client: X11Client;
  root: number;
  rootDepth: number;
  widthPx: number;
  heightPx: number;
  /** Follows displays; null where the server has none of it (X Resize, Rotate and Reflect Extension). */
  randr: X11Randr | null;
  /** Keeps a window's picture whole while others cover it (X Composite Extension); null where the server cannot. */
  composite: X11Composite | null;
  /** Resolves when the server has gone. */
  ended: Promise<void>;
  close(): void;
}

const patienceMs = 4000;

/** One request and its answer. */
export const asked = <T>(send: (reply: (error: Error | null, value: T) => void) => void): Promise<T> =>
  new Promise((resolve, reject) => send((error, value) => (error ? reject(error) : resolve(value))));

/** @throws in words where no display answers */
export async function openX11(display = process.env.DISPLAY ?? ''): Promise<X11Connection> {
  if (!display) throw new Error('No display is known here: the variable DISPLAY is empty.');
  let client: X11Client | null = null;
  let ended = (): void => {};
  const gone = new Promise<void>((resolve) => (ended = resolve));
  let late: NodeJS.Timeout | undefined;
  try {
    const opened = await new Promise<Awaited<ReturnType<typeof opening>>>((resolve, reject) => {
      late = setTimeout(() => reject(new Error('it does not answer')), patienceMs);
      opening().then(resolve, reject);
    });
    return opened;
  } catch (error) {
    close();
    const why = errorText(error);
    throw new Error(`The display ${display} cannot be reached: ${why}.`);
  } finally {
    clearTimeout(late);
  }

  function close(): void {
    try {
      client?.terminate();
    } catch {
      // It is closed already.
    }
    ended();
  }

  async function opening(): Promise<X11Connection> {
    const shown = await asked<import('x11').X11Display>((reply) => {
      client = createClient({ display }, reply);
      // A window that has gone meanwhile, a request that came too late: who asked is told by the answer.
      client.on('error', () => {});
      client.on('end', () => ended());
    });
    const screen = shown.screen[0];
    if (!screen) throw new Error('it shows no screen');
    const of = async <T>(send: (reply: (error: Error | null, value: T) => void) => void): Promise<T | null> =>
      asked(send).catch(() => null);
    return {
      client: shown.client,
      root: screen.root,
      rootDepth: screen.root_depth,
      widthPx: screen.pixel_width,
      heightPx: screen.pixel_height,
      randr: await of<X11Randr>((reply) => shown.client.require('randr', reply)),
      composite: await of<X11Composite>((reply) => shown.client.require('composite', reply)),
      ended: gone,
      close,
    };
  }
}
