export * from './frameRate';
export * from './format';
export * from './randomStream';
export * from './statistics';
