export * from './demoMachines';
export * from './readiness';
export * from './sheetText';
export * from './encoderSpeeds';
