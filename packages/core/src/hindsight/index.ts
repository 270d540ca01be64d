export * from './clipSpan';
export * from './hindsightCost';
