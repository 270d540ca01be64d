export * from './driveFacts';
export * from './fileName';
export * from './plan';
export * from './rates';
export * from './roomFor';
export * from './roomLeft';
export * from './steadySpeed';
