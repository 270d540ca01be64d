export * from './client/engineClient';
export { ledgerNames, readLedgerColumns, readSeconds, replaceClosedLedger } from './process/ledgerWriter';
export { warmUpUs } from '@mellow/practice';
