export * from './forecast';
