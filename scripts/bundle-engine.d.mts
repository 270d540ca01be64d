/** Puts each entry and what it imports into one file beside the engine's own. @param entryPoints paths from the project's root, by name */
export function bundle(entryPoints: Record<string, string>): Promise<void>;
export function bundleEngine(): Promise<void>;
