export * from './camera';
export * from './fitInto';
export * from './pixelFormat';
export * from './shape';
export * from './sizes';
export * from './ssim';
export * from './likeness';
