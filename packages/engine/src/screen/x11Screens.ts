import type { DisplayFacts, ScreenPlace, WindowFacts } from '@mellow/model';
import type { X11Property } from 'x11';
import { linuxProgramOf } from '../system/processList';
import { asked, type X11Connection } from './x11Connection';

/** Windows under so many pixels a side are parts of others, or nothing that is played. */
const leastSidePx = 64;
const viewable = 2;
const inputOutput = 1;
/** Modes with two or half the lines a picture (RandR: DoubleScan, Interlace). */
const interlaced = 0x10;
const doubleScan = 0x20;

/** Displays by RandR; where the server has none of it, the screen as a whole. */
export async function x11Displays(x: X11Connection): Promise<DisplayFacts[]> {
  const whole: DisplayFacts = {
    name: 'screen',
    ...{ leftPx: 0, topPx: 0, widthPx: x.widthPx, heightPx: x.heightPx },
    rateHz: null,
    primary: true,
  };
  const { randr } = x;
  if (!randr) return [whole];
  const resources = await asked<Parameters<Parameters<typeof randr.GetScreenResources>[1]>[1]>((reply) =>
    randr.GetScreenResources(x.root, reply),
  );
  const found: DisplayFacts[] = [];
  for (const crtc of resources.crtcs) {
    const info = await asked<Parameters<Parameters<typeof randr.GetCrtcInfo>[2]>[1]>((reply) =>
      randr.GetCrtcInfo(crtc, 0, reply),
    );
    const output = info.output[0];
    if (!info.mode || output === undefined || info.width < leastSidePx || info.height < leastSidePx) continue;
    const { name } = await asked<{ name: string }>((reply) => randr.GetOutputInfo(output, 0, reply));
    found.push({
      name,
      ...{ leftPx: info.x, topPx: info.y, widthPx: info.width, heightPx: info.height },
      rateHz: rateOf(resources.modeinfos.find((mode) => mode.id === info.mode)),
      primary: info.x === 0 && info.y === 0,
    });
  }
  return found.length ? found : [whole];
}

/** Pictures a second of a mode: pixels a second by pixels a picture, blanking included. */
function rateOf(mode: { dot_clock: number; h_total: number; v_total: number; modeflags: number } | undefined) {
  if (!mode?.dot_clock || !mode.h_total || !mode.v_total) return null;
  const lines =
    mode.modeflags & doubleScan ? mode.v_total * 2 : mode.modeflags & interlaced ? mode.v_total / 2 : mode.v_total;
  return Math.round((mode.dot_clock / (mode.h_total * lines)) * 1000) / 1000;
}

/** Windows that a person would name: the manager's list, or, where nobody manages them, those with a title. */
export async function x11Windows(x: X11Connection): Promise<WindowFacts[]> {
  const ids =
    (await managed(x)) ?? (await asked<{ children: number[] }>((reply) => x.client.QueryTree(x.root, reply))).children;
  const found: WindowFacts[] = [];
  for (const windowId of ids) {
    const place = await x11WindowPlace(x, windowId);
    const title = place ? await x11Title(x, windowId) : '';
    if (!place || !title) continue;
    const processId = await x11Process(x, windowId);
    const program = processId === null ? null : linuxProgramOf(processId);
    found.push({ windowId, title, program, ...place });
  }
  return found;
}

async function managed(x: X11Connection): Promise<number[] | null> {
  const list = await property(x, x.root, '_NET_CLIENT_LIST');
  if (!list || list.format !== 32) return null;
  return Array.from({ length: list.data.length >> 2 }, (_, i) => list.data.readUInt32LE(i * 4));
}

/** Where a window lies on the screen; null while it is not shown, or when it has gone. */
export async function x11WindowPlace(x: X11Connection, windowId: number): Promise<ScreenPlace | null> {
  try {
    const attributes = await asked<{ klass: number; mapState: number }>((reply) =>
      x.client.GetWindowAttributes(windowId, reply),
    );
    if (attributes.mapState !== viewable || attributes.klass !== inputOutput) return null;
    const { width, height } = await asked<{ width: number; height: number }>((reply) =>
      x.client.GetGeometry(windowId, reply),
    );
    if (width < leastSidePx || height < leastSidePx) return null;
    const at = await asked<{ destX: number; destY: number }>((reply) =>
      x.client.TranslateCoordinates(windowId, x.root, 0, 0, reply),
    );
    return { leftPx: at.destX, topPx: at.destY, widthPx: width, heightPx: height };
  } catch {
    return null;
  }
}

/** A window's title (EWMH's in UTF-8 before ICCCM's); empty where it has none. */
export async function x11Title(x: X11Connection, windowId: number): Promise<string> {
  const named = (await property(x, windowId, '_NET_WM_NAME')) ?? (await property(x, windowId, 'WM_NAME'));
  return named ? named.data.toString('utf8').split('\0')[0]!.trim().slice(0, 200) : '';
}

/** The process a window belongs to (EWMH); null where it does not say. */
export async function x11Process(x: X11Connection, windowId: number): Promise<number | null> {
  const told = await property(x, windowId, '_NET_WM_PID');
  return told && told.format === 32 && told.data.length >= 4 ? told.data.readUInt32LE(0) : null;
}

async function property(x: X11Connection, windowId: number, name: string): Promise<X11Property | null> {
  try {
    const atom = await asked<number>((reply) => x.client.InternAtom(false, name, reply));
    const found = await asked<X11Property>((reply) => x.client.GetProperty(0, windowId, atom, 0, 0, 4096, reply));
    return found.data.length ? found : null;
  } catch {
    return null;
  }
}
