import type { GrabbedSource } from '@mellow/model';

/** How a place of the screen is opened by the library. */
export interface GrabInput {
  /** The way, as a person may hear of it. */
  name: string;
  format: 'x11grab' | 'lavfi' | 'gdigrab' | 'avfoundation';
  address: string;
  options: Record<string, string>;
  /** Part of what it brings that is wanted, pixels; null: all of it. */
  crop: { leftPx: number; topPx: number; widthPx: number; heightPx: number } | null;
}

/** What a way of getting pictures is for, and what it cannot do; the first that opens is used. */
interface GrabWay {
  /** Why it stands where it stands in the order. */
  why: string;
  cannot: string;
  open(source: GrabbedSource, windowId: number | null): GrabInput | null;
}

/** A device waits for its own rate between pictures; at this one it never does. */
const unpaced = '1000';
/** Pictures a second that Windows' own duplication is asked for at most. */
const mostOfWindows = 240;

const onOff = (on: boolean): string => (on ? '1' : '0');
const sizeOf = ({ widthPx, heightPx }: GrabbedSource): string => `${widthPx}x${heightPx}`;
/** "DISPLAY2" and "Display 2" are the second: their number less one. */
const indexOf = (name: string): number => Math.max(0, Number(/(\d+)\s*$/.exec(name)?.[1] ?? 1) - 1);

const x11: GrabWay = {
  why: 'It reads display, region and window alike, with or without the pointer.',
  cannot: 'It sees no window that is hidden, and nothing under Wayland but what runs through XWayland.',
  open: (source, windowId) => ({
    name: 'X11',
    format: 'x11grab',
    address: process.env.DISPLAY ?? '',
    options: {
      framerate: unpaced,
      video_size: sizeOf(source),
      draw_mouse: onOff(source.pointer),
      ...(windowId === null
        ? { grab_x: String(source.leftPx), grab_y: String(source.topPx) }
        : { window_id: String(windowId) }),
    },
    crop: null,
  }),
};

/** FFmpeg, "ddagrab": the desktop as the graphics card has it, brought into memory. */
const duplication: GrabWay = {
  why: 'It costs the game least: the card hands its finished picture over.',
  cannot: 'It takes whole displays and parts of one, no window.',
  open(source) {
    if (source.kind === 'window') return null;
    const part =
      source.kind === 'region'
        ? `:offset_x=${source.leftPx}:offset_y=${source.topPx}:video_size=${sizeOf(source)}`
        : '';
    const output = source.kind === 'display' ? indexOf(source.name) : 0;
    return {
      name: 'desktop duplication',
      format: 'lavfi',
      address: `ddagrab=output_idx=${output}:draw_mouse=${onOff(source.pointer)}:framerate=${mostOfWindows}:output_fmt=8bit${part},hwdownload,format=bgra`,
      options: {},
      crop: null,
    };
  },
};

/** FFmpeg, "gfxcapture": one window, whatever covers it. */
const windowCapture: GrabWay = {
  why: 'It takes one window alone, whatever lies over it.',
  cannot: 'It needs Windows 10, 1903 or later.',
  open: (source, windowId) =>
    source.kind === 'window'
      ? {
          name: 'window capture',
          format: 'lavfi',
          address: `gfxcapture=hwnd=${windowId ?? source.windowId}:capture_cursor=${onOff(source.pointer)}:max_framerate=${mostOfWindows}:output_fmt=8bit,hwdownload,format=bgra`,
          options: {},
          crop: null,
        }
      : null,
};

/** FFmpeg, "gdigrab": works everywhere, and reads every pixel through the processor. */
const drawingInterface: GrabWay = {
  why: 'It works on every Windows.',
  cannot: 'It is slow, sees no picture of a game in full screen of its own, and a window only while nothing covers it.',
  open: (source) => ({
    name: 'the drawing interface',
    format: 'gdigrab',
    address: source.kind === 'window' ? `title=${source.title}` : 'desktop',
    options: {
      framerate: unpaced,
      draw_mouse: onOff(source.pointer),
      ...(source.kind === 'window'
        ? {}
        : { offset_x: String(source.leftPx), offset_y: String(source.topPx), video_size: sizeOf(source) }),
    },
    crop: null,
  }),
};

/** FFmpeg, "avfoundation": whole displays by their name. */
const avfoundation: GrabWay = {
  why: 'It is the only one.',
  cannot: 'It takes whole displays; a part is cut out of one, and a window cannot be had alone.',
  open: (source) =>
    source.kind === 'window'
      ? null
      : {
          name: 'AVFoundation',
          format: 'avfoundation',
          address: `Capture screen ${source.kind === 'display' ? indexOf(source.name) : 0}:none`,
          options: { capture_cursor: onOff(source.pointer), framerate: '120', pixel_format: 'bgr0' },
          crop:
            source.kind === 'region'
              ? {
                  leftPx: source.leftPx,
                  topPx: source.topPx,
                  widthPx: source.widthPx,
                  heightPx: source.heightPx,
                }
              : null,
        },
};

/** Ways of each system in the order in which they are tried. Windows and macOS are written from documentation and not tried. */
export const grabWays: Partial<Record<NodeJS.Platform, readonly GrabWay[]>> = {
  linux: [x11],
  win32: [duplication, windowCapture, drawingInterface],
  darwin: [avfoundation],
};

/** How a source may be opened on a system, the first choice first; a sentence where there is no way. */
export function grabInputsFor(
  platform: NodeJS.Platform,
  source: GrabbedSource,
  windowId: number | null,
): GrabInput[] | string {
  const ways = grabWays[platform];
  if (!ways)
    return 'Grabbing a display or a window is not built for this system yet; the practice game can be recorded.';
  const inputs = ways.flatMap((way) => way.open(source, windowId) ?? []);
  if (inputs.length) return inputs;
  return `This cannot be had here. ${ways.map(({ cannot }) => cannot).join(' ')} Record the display instead.`;
}
