export * from './demoMachines';
export * from './readiness';
export * from './sheetText';
