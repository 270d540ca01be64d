export * from './codecString';
export * from './encoders';
export * from './levels';
export * from './pictureQuality';
export * from './rateModel';
export * from './soundRates';
export * from './workTable';
