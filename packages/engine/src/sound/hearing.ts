import { createSoundInlet, peakOf, type SoundInlet, errorText } from '@mellow/core';
import {
  heardDevice,
  microphoneDevice,
  type PageSounds,
  type SoundFrom,
  type SoundInput,
  type SoundSource,
  type SoundState,
} from '@mellow/model';
import { deviceFeedFor } from './deviceFeed';
import type { FeedListener, SoundFeed } from './feed';
import { whyNotHeard } from './exclusiveUse';
import { openPageFeed } from './pageFeed';
import { openPulseFeed } from './pulseFeed';
import { askPulse, deviceTap, heardTap, microphoneTap, programTap, type PulseState, type PulseTap } from './pulseList';
import { watchPulse } from './pulseWatch';

export interface HeardSound {
  /** Fills a block of stereo at 48 kHz that was taken from a time on; false where it has not arrived. */
  read(startUs: number, into: Float32Array): boolean;
  state(): SoundState;
  /** Why it does not come; null where it does. */
  why(): string | null;
  figures(): { rateHz: number; channels: number; driftPpm: number | null; away: number };
}

export interface Hearing {
  sound(id: SoundSource): HeardSound | null;
  /** Every sound comes, or is known not to. */
  settled(): boolean;
  stop(): void;
}

export interface HearingOptions {
  pageSounds: PageSounds | null;
  log: (level: 'info' | 'warn', text: string) => void;
  platform?: NodeJS.Platform;
}

/** The first samples of a device that was asleep take up to two seconds, on a busy PC longer. */
const openingMs = 6000;
/** A sound that has brought nothing for so long is away. */
const awayMs = 1000;
const lookEveryMs = 250;
const pageAgainMs = 500;
/** A sound whose samples are all below (-80 dBFS) is silent. */
const audible = 1e-4;

/**
 * Listens to every sound that comes from outside, and to each again when it comes back: devices and programs by the system's
 * own service, the page by the application.
 */
export function startHearing(inputs: readonly SoundInput[], options: HearingOptions): Hearing {
  const platform = options.platform ?? process.platform;
  const outside = inputs.filter(({ from }) => from.kind !== 'practice');
  const heard = new Map(outside.map((input) => [input.id, listenTo(input, platform, options.log)]));
  const pulse = platform === 'linux' ? outside.filter(({ from }) => from.kind !== 'page') : [];
  const watch = pulse.length ? watchPulse(() => void reconcile()) : null;
  let busy = false;
  let wanted = false;
  for (const input of outside) {
    if (input.from.kind === 'page') openPage(input, input.from.what);
    else if (platform !== 'linux') openDevice(input, input.from);
  }
  const timer = setInterval(() => {
    for (const one of heard.values()) one.look();
  }, lookEveryMs);

  return {
    sound: (id) => heard.get(id) ?? null,
    settled: () => [...heard.values()].every((one) => one.settled()),
    stop() {
      clearInterval(timer);
      watch?.stop();
      for (const one of heard.values()) one.stop();
    },
  };

  /** Opens what is there and not open, closes what is open and is not what was asked for any more. */
  async function reconcile(): Promise<void> {
    wanted = true;
    if (busy) return;
    busy = true;
    while (wanted) {
      wanted = false;
      const state = await askPulse().catch((error: unknown) => errorText(error));
      for (const { id, from } of pulse)
        heard.get(id)?.tap(typeof state === 'string' ? state : tapFor(state, from), state);
    }
    busy = false;
  }

  function openPage(input: SoundInput, what: 'microphone' | 'playback'): void {
    const one = heard.get(input.id);
    if (!options.pageSounds) return one?.missing('This page’s sound reaches a take only through the application.');
    one?.keepOpen(pageAgainMs, (listener) => openPageFeed(options.pageSounds as PageSounds, what, listener));
  }

  function openDevice(input: SoundInput, from: SoundFrom): void {
    const open = deviceFeedFor(platform, from);
    const one = heard.get(input.id);
    if (typeof open === 'string') one?.missing(open);
    else one?.keepOpen(awayMs, open);
  }
}

function tapFor(state: PulseState, from: SoundFrom): PulseTap | string {
  if (from.kind === 'program') return programTap(state, from.program);
  if (from.kind !== 'device') return 'It is no device.';
  if (from.device === heardDevice) return heardTap(state);
  if (from.device === microphoneDevice) return microphoneTap(state);
  return deviceTap(state, from.device, from.words);
}

/** One sound: what brings it now, and where its samples go. */
function listenTo(input: SoundInput, platform: NodeJS.Platform, log: HearingOptions['log']) {
  let feed: (SoundFeed & { processId?: number | null }) | null = null;
  let inlet: SoundInlet | null = null;
  let format = { rateHz: 0, channels: 0 };
  let tapped: PulseTap | null = null;
  /** Where it came from last, open now or not. */
  let from: string | null = null;
  let why: string | null = null;
  let lastMs = -Infinity;
  let loudMs = -Infinity;
  let startedMs = performance.now();
  let away = 0;
  let toldAway = false;
  let stopped = false;
  let again: NodeJS.Timeout | undefined;
  const silentAfterMs = 10_000;
  let lookedMs = performance.now();
  let present = false;
  const here = (): boolean => present;
  const isOpening = (): boolean => lastMs === -Infinity && why === null && performance.now() - startedMs < openingMs;

  const listener = (reopen: () => void): FeedListener => ({
    begins(given) {
      format = { rateHz: given.rateHz, channels: given.channels.length };
      inlet = createSoundInlet(given);
    },
    samples(samples, arrivalUs) {
      if (lastMs === -Infinity) loudMs = performance.now();
      lastMs = performance.now();
      present = true;
      why = null;
      if (peakOf(samples) > audible) loudMs = lastMs;
      inlet?.push(samples, arrivalUs);
      if (toldAway) log('info', `${input.name} is heard again.`);
      toldAway = false;
    },
    ended(reason) {
      feed = null;
      tapped = null;
      missing(whyNotHeard(platform, reason));
      reopen();
    },
  });

  function close(): void {
    feed?.stop();
    feed = null;
    tapped = null;
  }

  function missing(reason: string): void {
    why = reason;
    present = false;
    lastMs = Math.min(lastMs, performance.now() - awayMs);
  }

  function tap(found: PulseTap | string, state: PulseState | string): void {
    if (stopped) return;
    if (typeof found === 'string') {
      close();
      return missing(found);
    }
    const same =
      tapped?.source === found.source &&
      tapped.streamIndex === found.streamIndex &&
      tapped.channelMap === found.channelMap &&
      tapped.rateHz === found.rateHz;
    // A device that goes may have our stream moved to another one, which nobody asked for.
    const own =
      typeof state === 'string'
        ? undefined
        : state.listeners.find(({ properties }) => properties['application.process.id'] === String(feed?.processId));
    if (feed && same && (!own || own.source === found.sourceIndex)) return;
    if (from !== null && from !== found.source) log('info', `${input.name} comes from ${found.words} now.`);
    close();
    from = found.source;
    tapped = found;
    startedMs = performance.now();
    feed = openPulseFeed(
      found,
      listener(() => {}),
    );
  }

  return {
    tap,
    missing,
    /** Keeps something open, and tries again a while after it ended. */
    keepOpen(everyMs: number, open: (listener: FeedListener) => SoundFeed): void {
      const begin = (): void => {
        if (!stopped) feed = open(listener(() => void (again = setTimeout(begin, everyMs))));
      };
      begin();
    },
    look(): void {
      const now = performance.now();
      // While this process itself had to wait, nothing could be heard, and nobody was away.
      const waited = now - lookedMs - lookEveryMs;
      lookedMs = now;
      if (waited > lookEveryMs) lastMs += waited;
      present &&= now - lastMs < awayMs;
      if (here() || toldAway) return;
      if (isOpening()) return;
      toldAway = true;
      if (lastMs > -Infinity) away++;
      log(
        'warn',
        `${input.name} is not heard: ${why ?? 'its device brings nothing.'} Its lanes go on in silence until it is back.`,
      );
    },
    settled: (): boolean => here() || toldAway || (why !== null && performance.now() - startedMs > 300),
    read: (startUs: number, into: Float32Array): boolean => inlet?.read(startUs, into) ?? false,
    state: (): SoundState =>
      isOpening() ? 'opening' : !here() ? 'away' : performance.now() - loudMs > silentAfterMs ? 'silent' : 'alive',
    why: (): string | null => (here() ? null : (why ?? 'Its device brings nothing.')),
    figures: () => ({ ...format, driftPpm: inlet?.driftPpm() ?? null, away }),
    stop(): void {
      stopped = true;
      clearTimeout(again);
      close();
    },
  };
}
