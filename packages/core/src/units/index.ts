export * from './frameRate';
export * from './format';
export * from './statistics';
