import { readFileSync } from 'node:fs';
import type { GrabbedSource } from '@mellow/model';
import { grabInputsFor, grabWays } from './grabTable';
import { macScreens, windowsScreens } from './systemScreens';

const place = { leftPx: 100, topPx: 50, widthPx: 1280, heightPx: 720 };
const display: GrabbedSource = { kind: 'display', name: 'DISPLAY2', ...place, pointer: true };
const region: GrabbedSource = { kind: 'region', ...place, pointer: false };
const window: GrabbedSource = {
  ...{ kind: 'window', windowId: 77, title: 'Oil Street', whenClosed: 'end' },
  ...{ ...place, pointer: false },
};
const addresses = (platform: NodeJS.Platform, source: GrabbedSource): unknown => {
  const inputs = grabInputsFor(platform, source, source.kind === 'window' ? source.windowId : null);
  return typeof inputs === 'string' ? inputs : inputs.map(({ format, address }) => `${format} ${address}`);
};

describe('how the screen is opened', () => {
  it('on Windows: the card’s own picture first, a window by its handle, the drawing interface last', () => {
    expect(addresses('win32', display)).toEqual([
      expect.stringMatching(/^lavfi ddagrab=output_idx=1:draw_mouse=1:.*,hwdownload,format=bgra$/),
      'gdigrab desktop',
    ]);
    expect(addresses('win32', region)).toEqual([
      expect.stringContaining(':offset_x=100:offset_y=50:video_size=1280x720,'),
      'gdigrab desktop',
    ]);
    expect(addresses('win32', window)).toEqual([
      expect.stringMatching(/^lavfi gfxcapture=hwnd=77:capture_cursor=0:/),
      'gdigrab title=Oil Street',
    ]);
  });
  it('on macOS: displays by number, a part cut out of one, and no window, which is said', () => {
    expect(addresses('darwin', display)).toEqual(['avfoundation Capture screen 1:none']);
    const [part] = grabInputsFor('darwin', region, null) as { crop: unknown }[];
    expect(part?.crop).toEqual(place);
    expect(addresses('darwin', window)).toContain('a window cannot be had alone');
  });
  it('on Linux: all three by X11, and nowhere else', () => {
    const [one] = grabInputsFor('linux', window, 99) as { options: Record<string, string> }[];
    expect(one?.options).toMatchObject({ window_id: '99', video_size: '1280x720', draw_mouse: '0' });
    expect(addresses('aix', display)).toContain('not built for this system');
  });
  it('each way says why it stands where it does, and what it cannot do', () => {
    for (const ways of Object.values(grabWays))
      for (const { why, cannot } of ways) expect([why, cannot].every((text) => text.endsWith('.'))).toBe(true);
  });
  // The filters are in the library's build for Windows alone; the binding's own list of options names them for every build.
  it.each(['ddagrab', 'gfxcapture'])('%s is told nothing that the library does not know', (filter) => {
    const file = require
      .resolve('node-av/constants')
      .replace(/constants[\\/][^\\/]*$/, 'constants/filter-options.d.ts');
    const block = new RegExp(`\\n {4}${filter}: \\{([\\s\\S]*?)\\n {4}\\}`).exec(readFileSync(file, 'utf8'))?.[1] ?? '';
    const known = [...block.matchAll(/^ {8}'?(\w+)'?\?:/gm)].map((found) => found[1]);
    expect(known.length).toBeGreaterThan(5);
    const told = [display, region, window].flatMap((source) => {
      const inputs = grabInputsFor('win32', source, 77);
      return (typeof inputs === 'string' ? [] : inputs)
        .filter(({ address }) => address.startsWith(`${filter}=`))
        .flatMap(({ address }) =>
          address
            .split(',')[0]!
            .slice(filter.length + 1)
            .split(':'),
        )
        .map((pair) => pair.split('=')[0]);
    });
    expect(told.length).toBeGreaterThan(3);
    expect(told.filter((name) => !known.includes(name))).toEqual([]);
  });
});

describe('what systems answer when asked for displays and windows', () => {
  it('Windows: places in pixels, names without their prefix, minimised and tiny windows left out', () => {
    const answer = JSON.stringify({
      displays: [
        { name: '\\\\.\\DISPLAY1', x: 0, y: 0, w: 2560, h: 1440, primary: true },
        { name: '\\\\.\\DISPLAY2', x: -1920, y: 120, w: 1920, h: 1080, primary: false },
      ],
      windows: [
        { id: 66_048, title: 'Oil Street', program: 'oilstreet', x: 10, y: 20, w: 1296, h: 759 },
        { id: 66_050, title: 'Put away', x: -32_000, y: -32_000, w: 160, h: 28 },
        { id: 66_052, title: 'Speck', x: 0, y: 0, w: 3, h: 3 },
      ],
    });
    const { displays, windows } = windowsScreens(answer);
    expect(displays.map(({ name, leftPx, primary }) => [name, leftPx, primary])).toEqual([
      ['DISPLAY1', 0, true],
      ['DISPLAY2', -1920, false],
    ]);
    expect(windows).toEqual([
      {
        windowId: 66_048,
        title: 'Oil Street',
        program: 'oilstreet',
        leftPx: 10,
        topPx: 20,
        widthPx: 1296,
        heightPx: 759,
      },
    ]);
    expect(() => windowsScreens('Access is denied.')).toThrow();
  });
  it('macOS: pixels, not points, and the rate where it is told', () => {
    const answer = JSON.stringify({
      SPDisplaysDataType: [
        { _name: 'Graphics' },
        {
          spdisplays_ndrvs: [
            {
              _name: 'Color LCD',
              _spdisplays_pixels: '3456 x 2234',
              _spdisplays_resolution: '1728 x 1117 @ 120.00Hz',
              spdisplays_main: 'spdisplays_yes',
            },
            { _name: 'No size' },
          ],
        },
      ],
    });
    expect(macScreens(answer).displays).toEqual([
      { name: 'Color LCD 1', leftPx: 0, topPx: 0, widthPx: 3456, heightPx: 2234, rateHz: 120, primary: true },
    ]);
    expect(() => macScreens('{}')).toThrow();
  });
});
