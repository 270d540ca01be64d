export * from './advice';
export * from './readyCheck';
export * from './relief';
export { adviceWeights, type AdviceWeight, type Rule } from './rule';
export { pageKeys } from './systemRules';
