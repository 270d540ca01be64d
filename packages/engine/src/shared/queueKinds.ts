/** First number of a message in the queues of frames: kind, then due index and slot. */
export const queueKinds = { picture: 1, repeat: 2, end: 3 } as const;

/**
 * First number of a message from Encode to Pack: a packet (due index, decode index, key, whether more of it follows), the
 * end, or the encoder's parameters.
 */
export const packetKinds = { packet: 1, end: 2, parameters: 3 } as const;

/**
 * First number of a message from Pack to Drive: bytes for a position, the end, or a new file: its first due, and whether it
 * goes elsewhere.
 */
export const fileKinds = { bytes: 1, end: 2, part: 3 } as const;

/**
 * First number of a message from Pack to what holds the last minutes: a packet (track, presentation, decoding, twice its
 * duration plus one for a key picture), the end, or the encoder's parameters.
 */
export const heldKinds = { packet: 1, end: 2, parameters: 3 } as const;
