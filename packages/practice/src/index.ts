export * from './glyphs';
export * from './layer';
export * from './passages';
export * from './picture420';
export * from './scene';
export * from './sound';
export * from './sprites';
export * from './strip';
