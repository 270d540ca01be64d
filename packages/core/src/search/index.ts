export * from './firstStep';
export * from './looked';
export * from './neighbours';
export * from './remedies';
export * from './startWithin';
