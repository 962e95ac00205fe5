import { fork } from 'node:child_process';
import os from 'node:os';
import path from 'node:path';
import { bin, install, root, run } from './setUp.mjs';

/**
 * npm run fuzz [-- MINUTES [SEED]]: draws anew for as long as it is let. Random circuits, converters, mutated designs and
 * briefs, each case with a time limit in a child process; what fails is printed with the number that draws it again
 * (npm run fuzz -- case NUMBER). Prints what came of all of them at the end; exit code 1 when anything failed.
 */
install();
const compiled = path.join(root, 'node_modules', '.cache', 'fuzz', 'cases.mjs');
const require = 'import{createRequire}from"node:module";const require=createRequire(import.meta.url);';
if (run(bin('esbuild'), ['fuzz/cases.ts', '--bundle', '--platform=node', '--format=esm', '--sourcemap=inline', `--banner:js=${require}`, `--outfile=${compiled}`, '--log-level=error']) !== 0) process.exit(1);
if (process.argv[2] === 'case') process.exit(run(process.execPath, ['--enable-source-maps', compiled, process.argv[3]]));

const minutes = Number(process.argv[2] ?? 30);
const first = Number(process.argv[3] ?? Math.floor(Math.random() * 1e9));
const LIMIT = 10_000;
const until = Date.now() + minutes * 60_000;
console.log(`Seeds from ${first} on, for ${minutes} min on ${os.cpus().length} cores; each case at most ${LIMIT / 1000} s of computing.`);

const outcomes = new Map();
let next = first;
let cases = 0;
let faults = 0;
let slowest = { seconds: 0, seed: 0 };

function report(seed, kind, outcome, fault, input) {
  cases++;
  const key = `${kind.split(' ')[0]}: ${outcome}`;
  outcomes.set(key, (outcomes.get(key) ?? 0) + 1);
  if (fault === undefined) return;
  faults++;
  console.log(`\nFAULT ${seed} (${kind}): ${fault}`);
  if (input !== undefined) console.log(`  ${JSON.stringify(input).slice(0, 1500)}`);
}

/** One worker: a child that is given a number at a time, and a new one where it takes too long. */
function worker() {
  return new Promise((done) => {
    let child;
    const start = () => {
      child = fork(compiled, [], { execArgv: ['--enable-source-maps'], stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      give();
    };
    const give = () => {
      if (Date.now() > until) {
        child.kill();
        return done();
      }
      const seed = next++;
      const timer = setTimeout(() => {
        child.removeAllListeners();
        child.kill('SIGKILL');
        report(seed, 'time', 'too long', `over ${LIMIT / 1000} s`);
        start();
      }, 3 * LIMIT);
      child.once('message', (v) => {
        clearTimeout(timer);
        child.removeAllListeners('exit');
        if (v.seconds > slowest.seconds) slowest = { seconds: v.seconds, seed };
        report(v.seed, v.kind, v.outcome, v.fault ?? (v.seconds > LIMIT / 1000 ? `over ${LIMIT / 1000} s` : undefined), v.input);
        give();
      });
      child.once('exit', () => {
        clearTimeout(timer);
        child.removeAllListeners();
        report(seed, 'exit', 'exit', 'the process ended');
        start();
      });
      child.send(seed);
    };
    start();
  });
}
await Promise.all(os.cpus().map(worker));
console.log(`\n${cases} cases, ${faults} faults; slowest ${slowest.seconds.toFixed(1)} s (${slowest.seed})`);
for (const [key, count] of [...outcomes].sort((a, b) => b[1] - a[1])) console.log(`  ${String(count).padStart(6)}  ${key}`);
process.exit(faults > 0 ? 1 : 0);
