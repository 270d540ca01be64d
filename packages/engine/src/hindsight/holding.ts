import { encoderFacts, errorText, framesPerSecond } from '@mellow/core';
import type { HindsightOrder, KeepOrder, Kept, Recipe } from '@mellow/model';
import { openClipWriting, type ClipWriting } from './clipWriting';
import { createDriveHistory } from './driveHistory';
import type { HeldPacket, History } from './history';
import { createMemoryHistory } from './memoryHistory';

/** Holding that has failed is begun anew after so long. */
const againUs = 10e6;
/** So many packets of a clip are written at a time: what comes meanwhile waits no longer. */
const packetsAtOnce = 32;

/** What holds the last minutes: it may fail, says so, lets go of what it had, and begins anew after a while. */
export interface Holding {
  /** The encoder's parameters: what comes after them can be held. */
  begin(header: Uint8Array): void;
  /** The data is copied. */
  push(packet: HeldPacket, data: Uint8Array): void;
  keep(order: KeepOrder): void;
  /** Some of a clip is asked for, or is still to be written. */
  busy(): boolean;
  /** Writes a little of a clip. @returns whether anything was done */
  step(): boolean;
  frames(): number;
  bytes(): number;
  /** @param stays on the drive, where somebody will want it: whoever asked for it is gone */
  close(stays: boolean): void;
}

export interface HoldingVoice {
  kept(kept: Kept): void;
  /** Why nothing can be held for now; null: it can again. */
  trouble(text: string | null): void;
  nowUs(): number;
}

type State =
  { is: 'waiting' } | { is: 'holding'; history: History } | { is: 'troubled'; text: string; sinceUs: number };

export function createHolding(order: HindsightOrder, recipe: Recipe, voice: HoldingVoice): Holding {
  const fps = framesPerSecond(recipe.rate);
  const reorders = encoderFacts[recipe.encode.encoder].mostBFrames > 0 && recipe.encode.bFrames > 0;
  const asked: KeepOrder[] = [];
  let header: Uint8Array | null = null;
  let state: State = { is: 'waiting' };
  let writing: { id: string; clip: ClipWriting } | null = null;

  function open(): History {
    const options = {
      windowFrames: Math.ceil(order.lengthS * fps),
      limitBytes: order.limitBytes,
      reorders,
      header: header?.length ? header : null,
      owner: order.owner ?? '',
    };
    return order.where === 'drive' ? createDriveHistory(order.folder, recipe, options) : createMemoryHistory(options);
  }

  /** What is held cannot be relied on any more: it goes, so that it takes no room from the take. */
  function fail(error: unknown): void {
    const text = `The last minutes cannot be held: ${errorText(error)}. It is tried again; the take goes on.`;
    const before = state;
    state = { is: 'troubled', text, sinceUs: voice.nowUs() };
    try {
      if (before.is === 'holding') before.history.close(false);
    } catch {
      // It was told already that it fails.
    }
    if (before.is !== 'troubled' || before.text !== text) voice.trouble(text);
  }

  function begin(): void {
    const wasTroubled = state.is === 'troubled';
    try {
      state = { is: 'holding', history: open() };
      if (wasTroubled) voice.trouble(null);
    } catch (error) {
      fail(error);
    }
  }

  function openClip(next: KeepOrder): void {
    const clip = state.is === 'holding' ? state.history.clip(Math.ceil(next.lastS * fps)) : null;
    const why = state.is === 'troubled' ? state.text : 'Nothing is held yet: no whole picture has come.';
    if (!clip) return voice.kept({ ok: false, id: next.id, why });
    writing = { id: next.id, clip: openClipWriting(recipe, clip, next) };
  }

  return {
    begin(given) {
      header = given.slice();
      if (state.is === 'waiting') begin();
    },
    push(packet, data) {
      if (state.is === 'troubled' && header && packet.key && voice.nowUs() - state.sinceUs >= againUs) begin();
      if (state.is !== 'holding') return;
      try {
        state.history.push(packet, data);
      } catch (error) {
        fail(error);
      }
    },
    keep: (next) => void asked.push(next),
    busy: () => writing !== null || asked.length > 0,
    step() {
      const next = writing ? null : asked.shift();
      const id = writing?.id ?? next?.id;
      if (id === undefined) return false;
      try {
        if (next) openClip(next);
        const facts = writing?.clip.step(packetsAtOnce);
        if (!facts) return true;
        writing = null;
        voice.kept({ ok: true, id, ...facts });
      } catch (error) {
        writing?.clip.free();
        writing = null;
        voice.kept({ ok: false, id, why: errorText(error) });
      }
      return true;
    },
    frames: () => (state.is === 'holding' ? state.history.frames() : 0),
    bytes: () => (state.is === 'holding' ? state.history.bytes() : 0),
    close(stays) {
      writing?.clip.free();
      writing = null;
      const before = state;
      state = { is: 'waiting' };
      if (before.is === 'holding') before.history.close(stays);
    },
  };
}
