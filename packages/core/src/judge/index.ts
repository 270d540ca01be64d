export * from './foretold';
export * from './judge';
export * from './judgeRecipe';
export * from './limits';
export * from './opens';
export * from './sentence';
