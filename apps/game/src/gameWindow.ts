import { asked, type X11Connection } from '@mellow/engine';
import type { PracticeGame } from '@mellow/model';
import type { Direction } from './gameRound';
import { eventMask, type X11Event } from 'x11';

/** A window that shows pictures and hears keys. */
export interface GameWindow {
  readonly id: number;
  /** Shows a picture; resolves when the server has drawn it. */
  show(picture: Buffer): Promise<void>;
  /** Direction keys that are held down. */
  held(): ReadonlySet<Direction>;
  /** Resolves when the window has been closed. */
  closed: Promise<void>;
}

/** Key codes of the arrow keys under the common rules for keyboards (evdev; from memory). */
const directions: Partial<Record<number, Direction>> = { 111: 'up', 113: 'left', 114: 'right', 116: 'down' };
const copyFromParent = 0;
const inputOutput = 1;
const zPixmap = 2;
const replace = 0;
/** Not in the list of masks that the package names: KeyRelease. */
const keyRelease = 2;

export async function openGameWindow(x: X11Connection, game: PracticeGame): Promise<GameWindow> {
  const { client } = x;
  const { widthPx, heightPx } = game;
  const id = client.AllocID();
  const mask = (eventMask.KeyPress ?? 1) | keyRelease | (eventMask.StructureNotify ?? 0);
  client.CreateWindow(id, x.root, 0, 0, widthPx, heightPx, 0, copyFromParent, inputOutput, copyFromParent, {
    eventMask: mask,
    backgroundPixel: 0,
  });
  const context = client.AllocID();
  client.CreateGC(context, id, {});
  const atom = (name: string): Promise<number> => asked((reply) => client.InternAtom(false, name, reply));
  client.ChangeProperty(replace, id, await atom('_NET_WM_NAME'), await atom('UTF8_STRING'), 8, game.title);
  client.ChangeProperty(replace, id, await atom('WM_NAME'), await atom('STRING'), 8, game.title);
  const processId = Buffer.alloc(4);
  processId.writeUInt32LE(process.pid);
  client.ChangeProperty(replace, id, await atom('_NET_WM_PID'), await atom('CARDINAL'), 32, processId);
  const held = new Set<Direction>();
  const closed = new Promise<void>((resolve) => {
    client.on('event', (event: X11Event) => {
      if (event.name === 'DestroyNotify' && event.wid === id) resolve();
      const direction = directions[event.keycode];
      if (event.name === 'KeyPress' && direction) held.add(direction);
      if (event.name === 'KeyRelease' && direction) held.delete(direction);
    });
    void x.ended.then(() => resolve());
  });
  client.MapWindow(id);
  await drawn();
  return {
    id,
    held: () => held,
    closed,
    async show(picture) {
      // One request a picture: the server never shows, and nobody ever grabs, half of one.
      client.PutImage(zPixmap, id, context, widthPx, heightPx, 0, 0, 0, x.rootDepth, picture);
      await drawn();
    },
  };

  /** The answer to any request comes after all before it were carried out. */
  async function drawn(): Promise<void> {
    await asked((reply) => client.GetInputFocus(reply));
  }
}
