export * from './frameRate';
export * from './format';
export * from './randomStream';
export * from './quantileSketch';
export * from './statistics';
export * from './studentT';
export * from './remember';
export * from './markdownText';
