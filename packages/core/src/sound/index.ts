export * from './deviceClock';
export * from './leadIn';
export * from './levels';
export * from './loudness';
export * from './mixdown';
export * from './resampler';
export * from './soundInlet';
export * from './soundWords';
