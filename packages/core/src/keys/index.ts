export * from './keyClashes';
export * from './keyNames';
