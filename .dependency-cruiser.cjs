// Imports run one way: model <- core <- practice <- engine <- server, and model <- core <- web. Nothing imports an app.
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^${from}/` },
  to: { path: '^(packages|apps|demo|bench|e2e)/', pathNot: `^(${[from, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    only('model-knows-nobody', 'packages/model', []),
    only('core-knows-the-model', 'packages/core', ['packages/model']),
    only('practice-knows-core', 'packages/practice', ['packages/model', 'packages/core']),
    only('engine-knows-practice', 'packages/engine', ['packages/model', 'packages/core', 'packages/practice']),
    only('server-knows-the-engine', 'apps/server', ['packages/model', 'packages/core', 'packages/engine']),
    only('game-knows-the-engine', 'apps/game', [
      'packages/model',
      'packages/core',
      'packages/practice',
      'packages/engine',
    ]),
    only('cli-knows-core', 'apps/cli', ['packages/model', 'packages/core']),
    only('web-knows-core', 'apps/web', ['packages/model', 'packages/core']),
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      // routes -> services -> db: who answers a request asks a service, and only services know tables.
      name: 'routes-ask-services',
      severity: 'error',
      from: { path: '^apps/server/src/(routes|http)/' },
      to: { path: '^apps/server/src/db/|node_modules/drizzle-orm' },
    },
    {
      name: 'services-know-no-http',
      severity: 'error',
      from: { path: '^apps/server/src/(?!(routes|http|main))' },
      to: { path: '^apps/server/src/(routes|http)/|node_modules/express' },
    },
    {
      name: 'through-the-front-door',
      severity: 'error',
      from: { path: '^(packages|apps)/([^/]+)/', pathNot: '/test/' },
      to: { path: '^packages/([^/]+)/src/(?!index)', pathNot: '^packages/$2/' },
    },
    {
      name: 'model-imports-zod-only',
      severity: 'error',
      from: { path: '^packages/model/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/zod' },
    },
    {
      name: 'core-imports-no-node',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'server-loads-no-native-code',
      severity: 'error',
      from: { path: '^apps/' },
      to: { path: 'node_modules/node-av' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|/build/|node_modules/\\.)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.cjs'],
    },
  },
};
