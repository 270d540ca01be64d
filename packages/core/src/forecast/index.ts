export * from './forecast';
export * from './safety';
