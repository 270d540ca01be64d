/** The game's modes, set by the engine. */
export const gameModes = { idle: 0, run: 1, quit: 2 } as const;
