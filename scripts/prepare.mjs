// Runs before start and test, also on a fresh clone: uses only what Node brings. Installs packages when the lock file
// changed, builds when sources changed, and for tests looks for the tools they need.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
process.chdir(root);
const forTests = process.argv[2] === 'test';
const stampFile = 'node_modules/.mellow-stamp.json';

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Mellow Frame needs Node.js 20.19 or later; this is ${process.versions.node}.`);
  process.exit(1);
}

/** What was installed and built last; one that was cut off says nothing, and both are done anew. */
function storedStamp() {
  try {
    return JSON.parse(readFileSync(stampFile, 'utf8'));
  } catch {
    return {};
  }
}
const stamp = storedStamp();
const save = () => {
  mkdirSync('node_modules', { recursive: true });
  writeFileSync(stampFile, JSON.stringify(stamp));
};

const lockHash = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
if (stamp.lock !== lockHash) {
  console.log('Installing packages (about a minute the first time) ...');
  const npm = process.env.npm_execpath;
  const env = { ...process.env, SKIP_FFMPEG: 'true' };
  if (npm)
    execFileSync(process.execPath, [npm, 'ci', '--no-audit', '--no-fund', '--loglevel=error'], {
      stdio: 'inherit',
      env,
    });
  else execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { stdio: 'inherit', env });
  stamp.lock = lockHash;
  delete stamp.sources;
  save();
}

const newest = (folder) =>
  readdirSync(folder, { withFileTypes: true }).reduce((time, entry) => {
    // What checks and builds leave behind is no source.
    if (['node_modules', 'dist', 'build'].includes(entry.name) || entry.name.endsWith('.tsbuildinfo')) return time;
    const path = join(folder, entry.name);
    return Math.max(time, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }, 0);
const sources = Math.max(newest('packages'), newest('apps'), newest('scripts'));
if (
  stamp.sources !== sources ||
  !['apps/web/dist/index.html', 'packages/engine/build/main.mjs', 'apps/server/build/main.mjs'].every(existsSync)
) {
  console.log('Building ...');
  execFileSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
  stamp.sources = sources;
  save();
}

// Elsewhere only what needs no display, no sound system and no reference tools is run.
if (forTests && process.platform === 'linux') {
  const has = (command) => spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;
  const wanted = [
    [
      'chromium',
      'chromium',
      [process.env.CHROMIUM_PATH, '/usr/bin/chromium', '/usr/bin/chromium-browser'].some(
        (path) => path && existsSync(path),
      ),
    ],
    ['ffmpeg', 'ffmpeg', has('ffprobe') && has('ffmpeg')],
    ['mkvtoolnix', 'mkvmerge', has('mkvmerge')],
    ['xvfb', 'Xvfb', has('Xvfb')],
    ['pulseaudio', 'pulseaudio', has('pulseaudio')],
    ['pulseaudio-utils', 'parec', has('parec') && has('pactl')],
    ['sox', 'sox', has('sox')],
    ['xdotool', 'xdotool', has('xdotool')],
  ].filter(([, , there]) => !there);
  if (wanted.length && process.getuid?.() === 0 && has('apt-get')) {
    console.log(`Installing for the tests: ${wanted.map(([name]) => name).join(', ')} ...`);
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore' });
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...wanted.map(([name]) => name)], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  }
  const missing = wanted.filter(([, command]) => !has(command) && !(command === 'chromium' && has('chromium-browser')));
  if (!has('ffprobe')) missing.push(['ffmpeg', 'ffprobe']);
  if (!has('pactl')) missing.push(['pulseaudio-utils', 'pactl']);
  if (missing.length) {
    console.error(
      `The tests need ${missing.map(([name]) => name).join(', ')}. Install them (Debian: apt-get install ${missing.map(([name]) => name).join(' ')}) and run the tests again.`,
    );
    process.exit(1);
  }
}
