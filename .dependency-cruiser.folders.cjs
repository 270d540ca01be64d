// No circles of folders: what a folder needs lies below it. Tests may look from anywhere, so they are left out here.
const { options } = require('./.dependency-cruiser.cjs');

module.exports = {
  forbidden: ['packages/core', 'packages/engine', 'packages/practice', 'apps/server'].map((path) => ({
    name: `no-circles-of-folders-in-${path.split('/')[1]}`,
    severity: 'error',
    scope: 'folder',
    from: { path: `^${path}/src` },
    to: { circular: true },
  })),
  options: { ...options, exclude: { path: `${options.exclude.path}|\\.test\\.ts$|\\.test-support\\.ts$` } },
};
