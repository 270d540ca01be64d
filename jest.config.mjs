const swc = [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'commonjs' },
  },
];
const common = {
  transform: { '\\.(m?[jt]sx?)$': swc },
  // Packages that come as ES modules only are turned into CommonJS too.
  transformIgnorePatterns: [
    '/node_modules/(?!(nanoid|p-queue|p-timeout|eventemitter3|echarts|zrender|@mui|react-router)/)',
  ],
  moduleNameMapper: {
    '\\.css$': '<rootDir>/scripts/test-support/noStyle.cjs',
    '^@fontsource': '<rootDir>/scripts/test-support/noStyle.cjs',
    '\\?worker&url$': '<rootDir>/scripts/test-support/noStyle.cjs',
  },
  modulePathIgnorePatterns: ['<rootDir>/.tmp/', '<rootDir>/data/', '/dist/', '/build/'],
};

export default {
  testTimeout: 120_000,
  projects: [
    {
      ...common,
      displayName: 'node',
      testEnvironment: 'node',
      setupFiles: ['<rootDir>/scripts/test-support/propertySeed.cjs'],
      testMatch: ['<rootDir>/packages/*/src/**/*.test.ts', '<rootDir>/apps/{server,game,cli}/src/**/*.test.ts'],
    },
    {
      ...common,
      displayName: 'web',
      testEnvironment: '<rootDir>/scripts/test-support/pageEnvironment.cjs',
      testMatch: ['<rootDir>/apps/web/src/**/*.test.ts', '<rootDir>/apps/web/src/**/*.test.tsx'],
      setupFilesAfterEnv: ['<rootDir>/scripts/test-support/pageSetup.cjs'],
    },
    {
      ...common,
      displayName: 'matrix',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/packages/*/matrix/**/*.matrix.ts', '<rootDir>/apps/server/matrix/**/*.matrix.ts'],
    },
    {
      ...common,
      displayName: 'integration',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/packages/*/test/**/*.test.ts', '<rootDir>/apps/server/test/**/*.test.ts'],
    },
  ],
};
