import { spawn } from 'node:child_process';
import path from 'node:path';
import { bin, build, chromium, install, root, run } from './setUp.mjs';

/** npm run bench: the figures with their targets, from the core and from the screen. Prints; decides nothing. */
install();
// Compiled as the product is, not as the development runner does it (which wraps every function to keep its name).
const compiled = path.join(root, 'node_modules/.cache/bench');
run(bin('esbuild'), ['bench/core.ts', 'bench/engine.ts', 'bench/corners.ts', 'bench/draws.ts', 'bench/runs.ts', 'bench/sweep.ts', 'bench/losses.ts', '--bundle', '--platform=node', '--format=esm', '--external:odex', `--outdir=${compiled}`, '--out-extension:.js=.mjs', '--log-level=error']);
for (const part of ['core', 'engine', 'runs', 'losses']) run(process.execPath, [path.join(compiled, `${part}.mjs`)]);

const browser = chromium();
build();
const port = '3211';
const server = spawn(bin('next'), ['start', '-p', port], { cwd: path.join(root, 'web'), stdio: ['ignore', 'pipe', 'inherit'] });
await new Promise((ready) => server.stdout.on('data', (text) => /Ready/.test(String(text)) && ready()));
run(bin('tsx'), ['bench/screen.ts'], { env: { ...process.env, CHROMIUM: browser, ADDRESS: `http://localhost:${port}` } });
server.kill();
process.exit(0);
