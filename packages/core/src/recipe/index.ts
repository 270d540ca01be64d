export * from './clashes';
export * from './differences';
export * from './fromBrief';
export * from './practiceGame';
export * from './settings';
export * from './words';
