import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { bin, build, chromium, install, redisServer, root, run } from './setUp.mjs';

/**
 * npm test: everything, from a fresh clone. Lint, types, Jest, then Playwright on the built
 * application; one closing line of counts. `npm test -- core/orbit` runs just the Jest tests below a path.
 */
install();
// Before Jest's workers would both install it.
if (process.argv.length < 3) redisServer();
// Property tests draw anew each time, but not in CI.
process.env.FC_SEED ??= process.env.CI ? '20261126' : String(Math.floor(Math.random() * 2 ** 31));
console.log(`Property tests draw from the seed ${process.env.FC_SEED} (FC_SEED sets it).`);
const only = process.argv.slice(2);
if (only.length > 0) process.exit(run(bin('jest'), only));

const reports = path.join(root, 'node_modules', '.jump-reed-reports');
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });
let passed = 0;
let failed = 0;
let skipped = 0;

function step(title, work) {
  console.log(`\n── ${title}`);
  const start = Date.now();
  work();
  console.log(`   ${((Date.now() - start) / 1000).toFixed(1)} s`);
}
/** A check that is one test: it passes or fails. */
const check = (status) => (status === 0 ? passed++ : failed++);

step('lint', () => check(run(bin('oxlint'), ['--deny-warnings'])));
step('types', () => check(run(bin('tsc'), ['-p', '.'])));
step('jest', () => {
  const file = path.join(reports, 'jest.json');
  const status = run(bin('jest'), ['--silent', '--json', `--outputFile=${file}`], { stdio: ['ignore', 'ignore', 'inherit'] });
  const report = readJson(file);
  passed += report?.numPassedTests ?? 0;
  skipped += report?.numPendingTests ?? 0;
  const broken = (report?.numFailedTests ?? 0) + (report?.numRuntimeErrorTestSuites ?? 0);
  failed += status !== 0 && broken === 0 ? 1 : broken;
});
step('browser', () => {
  const browser = chromium();
  build();
  const file = path.join(reports, 'playwright.json');
  const status = run(bin('playwright'), ['test', '--reporter=list,json'], { env: { ...process.env, CHROMIUM: browser, PLAYWRIGHT_JSON_OUTPUT_NAME: file } });
  const stats = readJson(file)?.stats;
  passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
  skipped += stats?.skipped ?? 0;
  const broken = stats?.unexpected ?? 0;
  failed += status !== 0 && broken === 0 ? 1 : broken;
  // Where nothing but this output is kept, what stood on the screen is worth more than that it was not what was expected.
  const seen = path.join(reports, 'e2e');
  for (const name of status !== 0 && existsSync(seen) ? readdirSync(seen, { recursive: true }) : [])
    if (name.endsWith('error-context.md')) console.log(`\n${name}\n${readFileSync(path.join(seen, name), 'utf8').slice(0, 12_000)}`);
});

console.log(`\n${passed} passed, ${failed} failed, ${skipped} skipped`);
process.exit(failed === 0 ? 0 : 1);

function readJson(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
}
