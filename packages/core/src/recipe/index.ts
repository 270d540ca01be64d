export * from './clashes';
export * from './differences';
export * from './fromBrief';
export * from './gameDifferences';
export * from './gameReach';
export * from './practiceGame';
export * from './settings';
export * from './words';
