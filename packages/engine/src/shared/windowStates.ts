/** What the watch says of a window that is recorded: the value of `windowState`. */
export const windowStates = { unknown: 0, shown: 1, hidden: 2, closed: 3 } as const;
