export * from './driveFacts';
export * from './fileName';
export * from './plan';
export * from './rates';
export * from './roomLeft';
export * from './steadySpeed';
