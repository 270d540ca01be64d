export * from './camera';
export * from './pixelFormat';
export * from './shape';
export * from './sizes';
export * from './sizeWork';
export * from './ssim';
export * from './likeness';
