export * from './againstTrial';
export * from './equality';
export * from './facts';
export * from './findings';
export * from './lossShape';
export * from './verdict';
