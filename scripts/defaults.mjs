import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { bin, install, root, run } from './setUp.mjs';

/**
 * npm run defaults [-- BRIEFS SEED]: the design made by itself for each of so many sensible briefs and each topology that
 * accepts it, judged at nine corners; by topology how many were accepted and hold, and what fails. Prints; decides nothing.
 */
install();
const [count = '100', seed = '20260101'] = process.argv.slice(2);
const compiled = path.join(root, 'node_modules/.cache/defaults');
run(bin('esbuild'), ['bench/defaults.ts', '--bundle', '--platform=node', '--format=esm', `--outdir=${compiled}`, '--out-extension:.js=.mjs', '--log-level=error', '--banner:js=import { createRequire } from "node:module"; const require = createRequire(import.meta.url);']);
const parts = Math.max(2, availableParallelism());
const begun = Date.now();
const rows = (await Promise.all(Array.from({ length: parts }, (_, k) => new Promise((done) => {
  let text = '';
  const child = spawn(process.execPath, [path.join(compiled, 'defaults.mjs'), count, seed, String(k), String(parts)], { stdio: ['ignore', 'pipe', 'inherit'] });
  child.stdout.on('data', (more) => (text += more));
  child.on('close', () => done(text.split('\n').filter(Boolean).map((line) => JSON.parse(line))));
})))).flat();
if (process.env.ROWS) (await import('node:fs')).writeFileSync(process.env.ROWS, JSON.stringify(rows));

const made = rows.filter((r) => r.met !== undefined);
const tally = (list) => Object.entries(list.reduce((all, id) => ({ ...all, [id]: (all[id] ?? 0) + 1 }), {})).sort((a, b) => b[1] - a[1]).map(([id, n]) => `${id} ${n}`).join(', ');
const line = (name, list) => {
  const own = list.filter((r) => r.met !== undefined);
  const met = own.filter((r) => r.met).length;
  const times = own.map((r) => r.ms).sort((a, b) => a - b);
  const failing = tally(own.filter((r) => !r.met).flatMap((r) => r.fails));
  console.log([name.padEnd(28), String(own.length).padStart(8), String(met).padStart(5), `${own.length ? Math.round((100 * met) / own.length) : 0} %`.padStart(6), `${Math.round(times[times.length >> 1] ?? 0)} ms`.padStart(9), ' ', failing + (own.length < list.length ? `${failing ? ', ' : ''}not made: ${tally(list.filter((r) => r.met === undefined).map((r) => r.refused))}` : '')].join(' '));
};
console.log(['topology'.padEnd(28), 'accepted', '  met', '      ', '     time', '  what fails'].join(' '));
for (const id of [...new Set(rows.map((r) => r.topology))].sort()) line(id, rows.filter((r) => r.topology === id));
line('all', rows);
const briefs = [...new Set(rows.map((r) => r.brief))];
const served = briefs.filter((b) => made.some((r) => r.brief === b && r.met));
console.log(`\nbriefs with a design that holds: ${served.length} of ${count} (${briefs.length} are accepted by any); without: ${Array.from({ length: Number(count) }, (_, b) => b).filter((b) => !served.includes(b)).join(', ') || 'none'}`);
console.log(`seed ${seed}, ${Math.round((Date.now() - begun) / 1000)} s on ${parts} cores`);
