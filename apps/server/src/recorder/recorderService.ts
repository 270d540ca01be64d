import type { Held, Kept, KeepOrder, RewrapInto, RolledKind, SoundSource, Take } from '@mellow/model';

/** What the rest of the server asks of the recorder. */
export interface RecorderService {
  /** @param driveId where the files go; the recipe's drive unless it is given */
  startTrial(setupId: string, lengthS: number | null, kind?: RolledKind, driveId?: string): Promise<Take>;
  stop(): void;
  /** The take that rolls and how far it is, to this moment; null where none does. */
  rollingNow(): { takeId: string; elapsedUs: number; held: Held | null } | null;
  /** Records nothing of a full take until it goes on; 'turn' does the other of the two. */
  pause(to: boolean | 'turn'): void;
  /** Opens or closes a sound of the rolling take that is heard while its key is held. */
  hold(sound: SoundSource, open: boolean): void;
  /** Writes part of what the rolling take holds into a reserved file. */
  keep(keep: KeepOrder): Promise<Kept>;
  /** Makes a plain MP4 of a finished take, or one file of its parts, without encoding again. */
  rewrap(takeId: string, into?: RewrapInto): Promise<Take>;
  /** Looks again for a take whose drive was away, or whose reading failed. */
  lookAgain(takeId: string): Promise<Take>;
  /** Runs work of a person's; refused while a take is made, and no take begins beside it. */
  beside<T>(work: () => Promise<T>): Promise<T>;
  /**
   * Looks for takes that an earlier run left open: closed meanwhile, still closing, or to be rescued. Resolves when the
   * first is claimed, so that no trial gets in front of it; `whole` resolves when all are done.
   */
  recoverOrphans(): Promise<{ whole: Promise<void> }>;
  /**
   * Told when a take that was begun here has ended; `byItself`: it was cut off, and not by anybody's wish or its length. What is left to
   * be done of other takes waits until the listener is through.
   */
  onEnded(listener: (ended: { takeId: string; byItself: boolean; rolledUs: number }) => Promise<void> | void): void;
  /** Process number of the recorder, null when none runs. */
  enginePid(): number | null;
  /** Closes a rolling take and ends the recorder; never waits longer than its limits. */
  shutDown(): Promise<void>;
}
