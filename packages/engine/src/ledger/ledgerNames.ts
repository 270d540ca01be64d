/** Names of a take's files in its own folder. */
export const ledgerNames = {
  header: 'header.json',
  /** Rows as they settled, a batch a second. */
  stream: 'ledger.arrows',
  /** Rows as they were reconciled with the file. */
  closed: 'ledger.arrow',
  pyramid: 'pyramid.arrow',
  losses: 'losses.json',
  seconds: 'seconds.ndjson',
  /** What the recorder said when it had closed the container. */
  closing: 'closing.json',
  /** Touched twice a second by a living recorder. */
  heartbeat: 'heartbeat',
  log: 'log.ndjson',
} as const;
