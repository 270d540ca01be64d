export * from './errorText';
