export * from './soundRates';
