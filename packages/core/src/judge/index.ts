export * from './foretold';
export * from './judge';
export * from './limits';
export * from './opens';
export * from './sentence';
