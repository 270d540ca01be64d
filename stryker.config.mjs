/**
 * Mutation tests of the modules whose faults lose footage: `npm run mutants`, or of some files only:
 * `npm run mutants -- --mutate packages/core/src/ledger/*.ts`. What survives with a reason stands in docs/mutants.md.
 */
export default {
  packageManager: 'npm',
  testRunner: 'jest',
  jest: { configFile: 'scripts/test-support/mutantsJest.config.mjs' },
  plugins: ['@stryker-mutator/jest-runner'],
  disableTypeChecks: false,
  coverageAnalysis: 'perTest',
  ignoreStatic: true,
  mutate: [
    'apps/server/src/recorder/takeLife.ts',
    'packages/core/src/{ledger,verdict}/**/*.ts',
    'packages/engine/src/{shared,ledger,files,hindsight,copying}/**/*.ts',
    'packages/engine/src/reading/sameTracks.ts',
    'packages/engine/src/process/rescue.ts',
    'packages/engine/src/threads/driveStripes.ts',
    'packages/engine/src/container/{stripedInput,stripesList,partedWriter,partsList}.ts',
    '!**/*.test.ts',
    '!**/*.test-support.ts',
    '!**/index.ts',
  ],
  // Words are no logic: a text that changes is looked at on the screen.
  mutator: { excludedMutations: ['StringLiteral'] },
  ignorePatterns: ['data', 'test-results', 'docs/screenshots', 'demo/takes', '.tmp', '**/*.tsbuildinfo'],
  reporters: ['progress-append-only', 'clear-text', 'json'],
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  jsonReporter: { fileName: '.tmp/mutants.json' },
  tempDirName: '.tmp/mutants',
  concurrency: 2,
  timeoutMS: 5000,
};
