export * from './codec';
export * from './forecast';
export * from './ledger';
export * from './picture';
export * from './recipe';
export * from './storage';
export * from './units';
export * from './verdict';
