/** The part of the package that is used here; it brings no types of its own. */
declare module 'x11' {
  type Reply<T> = (error: Error | null, reply: T) => void;

  export interface X11Property {
    type: number;
    format: number;
    data: Buffer;
  }
  export interface X11Geometry {
    depth: number;
    xPos: number;
    yPos: number;
    width: number;
    height: number;
  }
  export interface X11Event {
    name: string;
    wid: number;
    width: number;
    height: number;
    keycode: number;
  }
  export interface X11Randr {
    GetScreenResources(
      window: number,
      reply: Reply<{
        crtcs: number[];
        modeinfos: { id: number; dot_clock: number; h_total: number; v_total: number; modeflags: number }[];
      }>,
    ): void;
    GetCrtcInfo(
      crtc: number,
      configTimestamp: number,
      reply: Reply<{ x: number; y: number; width: number; height: number; mode: number; output: number[] }>,
    ): void;
    GetOutputInfo(output: number, timestamp: number, reply: Reply<{ name: string }>): void;
    GetOutputPrimary(window: number, reply: Reply<number>): void;
    QueryVersion(major: number, minor: number, reply: Reply<unknown>): void;
  }
  export interface X11Composite {
    Redirect: { Automatic: number };
    RedirectWindow(window: number, update: number): void;
  }
  export interface X11Client {
    event_consumers: Record<number, unknown>;
    on(name: 'event', listener: (event: X11Event) => void): void;
    on(name: 'error', listener: (error: Error) => void): void;
    on(name: 'end', listener: () => void): void;
    AllocID(): number;
    require(name: 'randr', reply: Reply<X11Randr>): void;
    require(name: 'composite', reply: Reply<X11Composite>): void;
    InternAtom(onlyIfExists: boolean, name: string, reply: Reply<number>): void;
    GetProperty(
      remove: number,
      window: number,
      property: number,
      type: number,
      offset: number,
      length: number,
      reply: Reply<X11Property>,
    ): void;
    QueryTree(window: number, reply: Reply<{ children: number[] }>): void;
    GetWindowAttributes(window: number, reply: Reply<{ klass: number; mapState: number }>): void;
    GetGeometry(drawable: number, reply: Reply<X11Geometry>): void;
    TranslateCoordinates(
      from: number,
      to: number,
      x: number,
      y: number,
      reply: Reply<{ destX: number; destY: number }>,
    ): void;
    GetImage(
      format: number,
      drawable: number,
      x: number,
      y: number,
      width: number,
      height: number,
      planes: number,
      reply: Reply<{ depth: number; data: Buffer }>,
    ): void;
    PutImage(
      format: number,
      drawable: number,
      context: number,
      width: number,
      height: number,
      x: number,
      y: number,
      leftPad: number,
      depth: number,
      data: Buffer,
    ): void;
    GetInputFocus(reply: Reply<unknown>): void;
    CreateWindow(
      id: number,
      parent: number,
      x: number,
      y: number,
      width: number,
      height: number,
      borderWidth: number,
      depth: number,
      windowClass: number,
      visual: number,
      values: Record<string, number>,
    ): void;
    CreateGC(id: number, drawable: number, values: Record<string, number>): void;
    ChangeWindowAttributes(window: number, values: Record<string, number>): void;
    ChangeProperty(mode: number, window: number, name: number, type: number, bits: number, data: string | Buffer): void;
    MapWindow(window: number): void;
    UnmapWindow(window: number): void;
    DestroyWindow(window: number): void;
    MoveWindow(window: number, x: number, y: number): void;
    ResizeWindow(window: number, width: number, height: number): void;
    terminate(): void;
  }
  export interface X11Display {
    client: X11Client;
    screen: { root: number; root_depth: number; pixel_width: number; pixel_height: number }[];
  }
  export const eventMask: Record<'KeyPress' | 'StructureNotify' | 'Exposure' | 'SubstructureNotify', number>;
  export function createClient(
    options: { display?: string; disableBigRequests?: boolean },
    ready: Reply<X11Display>,
  ): X11Client;
}
