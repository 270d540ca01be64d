import type { Binding, KeyAction } from '@mellow/model';
import { openProcess } from './processChannel';

/** A process that hears chosen keys whichever program has the focus. */
export interface KeyListener {
  readonly pid: number;
  choose(chosen: { action: KeyAction; binding: Binding }[]): void;
  onKey(take: (action: KeyAction, down: boolean) => void): void;
  onExit(gone: () => void): void;
  close(): void;
}

/** @throws in words where keys cannot be heard */
export async function startKeyListener(): Promise<KeyListener> {
  const channel = await openProcess('keys');
  return {
    pid: channel.pid,
    choose: (chosen) => channel.send({ type: 'keys', chosen }),
    onKey: (take) => void channel.onEvent((event) => void (event.type === 'key' && take(event.action, event.down))),
    onExit: (gone) => void channel.onExit(gone),
    close: channel.kill,
  };
}
