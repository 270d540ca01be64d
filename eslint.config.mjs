import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/',
      '**/dist/',
      '**/build/',
      'data/',
      '.tmp/',
      'test-results/',
      'apps/server/drizzle/',
      'demo/takes/',
      // AssemblyScript: its decorators and types are no TypeScript.
      'packages/engine/kernels/',
      'packages/practice/kernels/',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      'no-restricted-exports': [
        'error',
        {
          restrictDefaultExports: {
            direct: true,
            named: true,
            defaultFrom: true,
            namedFrom: true,
            namespaceFrom: true,
          },
        },
      ],
      eqeqeq: ['error', 'always'],
      'max-lines': ['error', { max: 400 }],
    },
  },
  {
    // What only the types tell: promises that nobody waits for, and what is used before it is there.
    files: ['packages/*/src/**/*.ts', 'apps/*/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts', '**/*.test.tsx', '**/*.test-support.ts', '**/*.test-support.tsx', '**/*.d.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/no-use-before-define': [
        'error',
        { functions: false, classes: true, variables: true, typedefs: false },
      ],
    },
  },
  {
    // One function, one thought; a table of routes counts as one.
    files: ['apps/server/src/**/*.ts', 'apps/cli/src/**/*.ts', 'packages/model/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'max-lines-per-function': ['error', { max: 80, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['apps/web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    // Model and core know neither page nor system, neither clock nor chance.
    files: ['packages/model/src/**/*.ts', 'packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'performance',
        'fetch',
        'require',
        'localStorage',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now' },
        { object: 'Math', property: 'random' },
      ],
      'no-restricted-imports': ['error', { patterns: ['node:*', 'react', 'react-*', '@mui/*'] }],
    },
  },
  {
    files: ['**/*.config.ts', '**/*.config.mjs', '**/vite.config.ts', '**/*.cjs'],
    rules: { 'no-restricted-exports': 'off', '@typescript-eslint/no-require-imports': 'off' },
  },
);
