import type { GrabbedSource, ScreenLook, ScreenPlace } from '@mellow/model';
import { lookOf } from './lookOf';
import { asked, openX11, type X11Connection } from './x11Connection';
import { x11WindowPlace } from './x11Screens';

const zPixmap = 2;
const allPlanes = 0xffffffff;
/** A game that draws ten times a second has drawn by then. */
const firstPictureMs = 150;
/** Nobody looks any longer: the display is left alone. */
const idleMs = 10_000;

export interface ScreenLooks {
  /** A small picture of a source as it is now. @throws in words where it cannot be had */
  look(source: GrabbedSource): Promise<ScreenLook>;
  close(): void;
}

/** Looks at what would be recorded, by the X server's own protocol; the connection is kept while somebody looks. */
export function openScreenLooks(): ScreenLooks {
  let opening: Promise<X11Connection> | null = null;
  let idle: NodeJS.Timeout | undefined;
  const whole = new Set<number>();

  return { look, close };

  async function look(source: GrabbedSource): Promise<ScreenLook> {
    const x = await connected();
    const place = source.kind === 'window' ? await windowPlace(x, source.windowId) : within(x, source);
    const drawable = source.kind === 'window' ? source.windowId : x.root;
    const [left, top] = source.kind === 'window' ? [0, 0] : [place.leftPx, place.topPx];
    const { data } = await asked<{ data: Buffer }>((reply) =>
      x.client.GetImage(zPixmap, drawable, left, top, place.widthPx, place.heightPx, allPlanes, reply),
    ).catch(() => {
      throw new Error('The picture could not be read: it may have been closed or hidden just now.');
    });
    if (data.length < place.widthPx * place.heightPx * 4)
      throw new Error('The display shows fewer than 24 bits a pixel, which is not read here.');
    return lookOf(data, place.widthPx, place.heightPx);
  }

  function connected(): Promise<X11Connection> {
    clearTimeout(idle);
    idle = setTimeout(close, idleMs);
    idle.unref();
    opening ??= openX11().then(
      (x) => {
        void x.ended.then(close);
        return x;
      },
      (error: unknown) => {
        opening = null;
        throw error;
      },
    );
    return opening;
  }

  /** A window is kept whole while it is looked at, as it is while it is recorded. */
  async function windowPlace(x: X11Connection, windowId: number): Promise<ScreenPlace> {
    const place = await x11WindowPlace(x, windowId);
    if (!place) throw new Error('The window is closed or hidden.');
    if (x.composite && !whole.has(windowId)) {
      x.composite.RedirectWindow(windowId, x.composite.Redirect.Automatic);
      whole.add(windowId);
      // Its own memory is empty until the game draws its next picture.
      await new Promise((resolve) => setTimeout(resolve, firstPictureMs));
    }
    return place;
  }

  function close(): void {
    clearTimeout(idle);
    const was = opening;
    opening = null;
    whole.clear();
    void was?.then((x) => x.close()).catch(() => {});
  }
}

function within(x: X11Connection, source: ScreenPlace): ScreenPlace {
  const { leftPx, topPx, widthPx, heightPx } = source;
  if (leftPx < 0 || topPx < 0 || leftPx + widthPx > x.widthPx || topPx + heightPx > x.heightPx)
    throw new Error(`That lies outside the screen, which is ${x.widthPx} × ${x.heightPx}.`);
  return source;
}
