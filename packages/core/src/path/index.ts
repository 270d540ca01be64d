export * from './draws';
export * from './gameAlone';
export * from './parameters';
export * from './seconds';
export * from './shared';
export * from './simulate';
