export * from './clashes';
export * from './differences';
export * from './startRecipe';
export * from './words';
