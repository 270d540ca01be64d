/** Columns of a frame's row: time offsets from due in microseconds, null = never. */
export const timeColumns = ['source', 'picked', 'captured', 'sized', 'encodeIn', 'encodeOut', 'written'] as const;
export type TimeColumn = (typeof timeColumns)[number];
