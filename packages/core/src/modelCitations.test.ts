import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(__dirname, '../../..');
const sources = ['packages', 'apps'].flatMap((folder) =>
  readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .filter((path) => /\/src\/.*\.tsx?$/.test(path) && !path.includes('node_modules') && !path.includes('/dist/'))
    .map((path) => join(root, folder, path)),
);

describe('comments', () => {
  it('cite sections of docs/model.md that are there', () => {
    const headings = readFileSync(join(root, 'docs/model.md'), 'utf8').match(/^#+ .*$/gm) ?? [];
    const missing = sources.flatMap((path) =>
      [...readFileSync(path, 'utf8').matchAll(/docs\/model\.md, "([^"]+)"/g)]
        .map((match) => match[1] ?? '')
        .filter((section) => !headings.some((heading) => heading.includes(section)))
        .map((section) => `${path}: ${section}`),
    );
    expect(missing).toEqual([]);
  });
  it('cite no page outside the repository', () => {
    const pattern = new RegExp(
      ['facts', 'needs', 'design', 'architecture', 'path-model'].map((name) => `${name}\\.md`).join('|'),
    );
    expect(
      sources.filter((path) => !path.endsWith('modelCitations.test.ts') && pattern.test(readFileSync(path, 'utf8'))),
    ).toEqual([]);
  });
});
