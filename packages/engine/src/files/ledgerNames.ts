/** Names of a take's files in its own folder. */
export const ledgerNames = {
  /** What a rescue has put in its place. */
  rescued: 'rescued.json',
  header: 'header.json',
  /** Rows as they settled, a batch a second. */
  stream: 'ledger.arrows',
  /** Rows as they were reconciled with the file. */
  closed: 'ledger.arrow',
  pyramid: 'pyramid.arrow',
  losses: 'losses.json',
  seconds: 'seconds.ndjson',
  /** Files of the take in order, each written down before it got its first byte; only where there is more than one. */
  parts: 'parts.json',
  /** The same as a list for the media library. */
  partsList: 'parts.ffconcat',
  /** Which files hold which blocks of a striped take. */
  stripesList: 'take.stripes',
  /** What the recorder said when it had closed the container. */
  closing: 'closing.json',
  /** Touched twice a second by a living recorder. */
  heartbeat: 'heartbeat',
  log: 'log.ndjson',
  /** What the encoder was given for a few dozen frames; thrown away once the file's pictures were held against it. */
  kept: 'kept.bin',
} as const;
