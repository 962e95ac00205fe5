import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { bin, filesBelow, install, root, run, stampOf } from './setUp.mjs';

/**
 * reed: compiled once into one file, and again when something it is made of has changed (by time and size, so that
 * the look itself costs milliseconds).
 */
install();
const compiled = path.join(root, 'node_modules', '.cache', 'reed');
const wanted = stampOf(['core', 'cli', 'shelf'].flatMap((folder) => filesBelow(path.join(root, folder))));
const [file, stamp] = [path.join(compiled, 'reed.mjs'), path.join(compiled, 'stamp')];
if (!existsSync(file) || !existsSync(stamp) || readFileSync(stamp, 'utf8') !== wanted) {
  mkdirSync(compiled, { recursive: true });
  // Into a file of its own first: several may be compiling at once.
  const own = path.join(compiled, `${process.pid}.mjs`);
  const require = 'import{createRequire}from"node:module";const require=createRequire(import.meta.url);';
  if (run(bin('esbuild'), ['cli/reed.ts', '--bundle', '--platform=node', '--target=node20', '--format=esm', '--minify-whitespace', `--banner:js=${require}`, `--outfile=${own}`, '--log-level=error']) !== 0) {
    rmSync(own, { force: true });
    process.exit(2);
  }
  renameSync(own, file);
  writeFileSync(stamp, wanted);
}
await import(pathToFileURL(file).href);
