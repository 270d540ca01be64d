export * from './client/engineClient';
export { ledgerNames, readLedgerColumns, readSeconds } from './process/ledgerWriter';
