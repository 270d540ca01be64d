export * from './client/aliveness';
export * from './client/listener';
export * from './client/localAddress';
export * from './client/mediaJob';
export type { ProcessEnd } from './client/processChannel';
export * from './client/recorderClient';
export { temporaryBeside, writeDurably } from './files/durable';
export { identityOfPath, whatLiesAt } from './files/identity';
export { discardPair } from './files/pairFile';
export { moveFile } from './files/moveFile';
export {
  journalSteps,
  openJournal,
  provenAt,
  reserveNoted,
  undoJournal,
  type Journal,
  type JournalStep,
} from './files/journal';
export * from './files/reserve';
export * from './ledger/closedLedger';
export { replaceClosedLedger } from './ledger/closedWriter';
export { ledgerNames } from './files/ledgerNames';
export { liveSeconds, readHeader, readLedgerColumns, readSeconds } from './ledger/storedLedger';
export { writePartsList } from './container/partsList';
export { writeStripesList } from './container/stripesList';
export { openScreenLooks, type ScreenLooks } from './screen/screenLook';
export { listScreens } from './screen/screens';
export { asked, openX11, type X11Connection } from './screen/x11Connection';
export { openDeviceFeed } from './sound/deviceFeed';
export { listSounds } from './sound/listSounds';
export { pageFormatSchema } from './sound/pageFeed';
export { systemFacts } from './system/systemFacts';
export { warmUpUs } from '@mellow/practice';
export { heldOwner, heldRecipe, noteLetGo, wasLetGo } from './hindsight/heldHead';
export { startKeyListener, type KeyListener } from './client/keyListener';
export { processNames } from './system/processList';
