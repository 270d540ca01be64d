/** Takes on what has to be given back, whatever is thrown meanwhile. @returns what was given */
export type Owns = <T>(thing: T, free: (thing: T) => void) => T;

export interface Disposer {
  owns: Owns;
  /** Gives everything back, the last first; one that refuses keeps none of the others from it. Once. */
  dispose(): void;
}

/**
 * Holds native things (containers, encoders, packets, frames) for whoever opens them: a thread that ends while the media library
 * still knows its callbacks takes the whole process along.
 * @param trouble told what giving one back refused with
 */
export function createDisposer(trouble: (error: unknown) => void = () => {}): Disposer {
  const held: (() => void)[] = [];
  return {
    owns(thing, free) {
      held.push(() => free(thing));
      return thing;
    },
    dispose() {
      for (let free = held.pop(); free; free = held.pop())
        try {
          free();
        } catch (error) {
          trouble(error);
        }
    },
  };
}

/**
 * Opens something that is made of several parts: where that throws, those that were opened are given back.
 * @param open gets what gives all of them back, once, for whoever it opens it for
 */
export function opening<T>(open: (owns: Owns, dispose: () => void) => T): T {
  const { owns, dispose } = createDisposer();
  try {
    return open(owns, dispose);
  } catch (error) {
    dispose();
    throw error;
  }
}
