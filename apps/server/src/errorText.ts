/** What an error says, whatever was thrown. */
export const textOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
