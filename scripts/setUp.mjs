import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** What start, test and bench share: installing what is missing, building what has changed. Only Node's own modules. */

export const root = path.join(path.dirname(fileURLToPath(import.meta.url)), '..');
const stamps = path.join(root, 'node_modules', '.jump-reed');

export function run(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  return status ?? 1;
}

export const bin = (name) => path.join(root, 'node_modules', '.bin', name);

function digest(files) {
  const hash = createHash('sha256');
  for (const file of files) hash.update(path.relative(root, file)).update(readFileSync(file));
  return hash.digest('hex');
}

/** Times and sizes of files as one name: cheaper than their contents, for what only decides on compiling anew. */
export function stampOf(files) {
  const hash = createHash('sha256');
  for (const file of files.sort()) {
    const { mtimeMs, size } = statSync(file);
    hash.update(`${path.relative(root, file)} ${mtimeMs} ${size}\n`);
  }
  return hash.digest('hex');
}

const stampHolds = (name, value) => {
  const file = path.join(stamps, name);
  return existsSync(file) && readFileSync(file, 'utf8') === value;
};
function stamp(name, value) {
  mkdirSync(stamps, { recursive: true });
  writeFileSync(path.join(stamps, name), value);
}

export function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const full = path.join(folder, entry.name);
    // What the build itself writes is no source of it, and tests are not built.
    if (['node_modules', '.next', 'e2e', 'next-env.d.ts'].includes(entry.name) || /\.(test|spec)\.tsx?$|\.tsbuildinfo$/.test(entry.name)) return [];
    return entry.isDirectory() ? filesBelow(full) : [full];
  });
}

/** Install the packages of the lock file, unless that was done already. */
export function install() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 9)) {
    console.error(`Jump Reed wants Node.js 20.9 or newer; this is ${process.versions.node}.`);
    process.exit(1);
  }
  const wanted = () => digest([path.join(root, 'package-lock.json')]);
  if (stampHolds('installed', wanted())) return;
  // What a command prints is its own: this goes beside it.
  console.error('Installing packages…');
  if (run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { stdio: ['ignore', 2, 2] }) !== 0) {
    console.error('The packages could not be installed: see above. A connection to the npm registry is needed once.');
    process.exit(1);
  }
  stamp('installed', wanted());
}

/** Build the application, unless nothing it is built from has changed. */
export function build() {
  const sources = ['core', 'web', 'shelf', 'demo'].flatMap((f) => filesBelow(path.join(root, f)));
  const wanted = digest([...sources, 'package-lock.json', 'tsconfig.json'].map((f) => (path.isAbsolute(f) ? f : path.join(root, f))).sort());
  const out = path.join(root, 'web', '.next', 'BUILD_ID');
  if (stampHolds('built', wanted) && existsSync(out)) return;
  console.log('Building…');
  if (run(bin('next'), ['build'], { cwd: path.join(root, 'web'), env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } }) !== 0) process.exit(1);
  stamp('built', wanted);
}

/** A program of Debian's: where it is, or installed by apt-get where that is allowed. */
function debian(title, variable, paths, name) {
  const there = () => [process.env[variable], ...paths].find((f) => f && existsSync(f) && statSync(f).isFile());
  const known = there();
  if (known) return known;
  console.error(`Installing ${name} for the tests…`);
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  const done = process.platform === 'linux' && run('apt-get', ['update'], quiet) === 0 && run('apt-get', ['install', '-y', '--no-install-recommends', name], quiet) === 0;
  const found = done ? there() : undefined;
  if (!found) throw new Error(`${title} is missing and could not be installed here. Run as root:  apt-get install ${name}   or set ${variable} to its path.`);
  return found;
}

/** Debian's chromium, or the one that CHROMIUM names. */
export const chromium = () => debian('Chromium', 'CHROMIUM', ['/usr/bin/chromium', '/usr/bin/chromium-browser'], 'chromium');

/** Debian's Redis server, or the one that REDIS_SERVER names. */
export const redisServer = () => debian('A Redis server', 'REDIS_SERVER', ['/usr/bin/redis-server'], 'redis-server');
