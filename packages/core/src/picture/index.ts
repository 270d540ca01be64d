export * from './shape';
