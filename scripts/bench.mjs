import { spawn } from 'node:child_process';
import path from 'node:path';
import { bin, build, chromium, install, root, run } from './setUp.mjs';

/** npm run bench: the figures with their targets, from the core and from the screen. Prints; decides nothing. */
install();
run(bin('tsx'), ['bench/core.ts']);
run(bin('tsx'), ['bench/engine.ts']);

const browser = chromium();
build();
const port = '3211';
const server = spawn(bin('next'), ['start', '-p', port], { cwd: path.join(root, 'web'), stdio: ['ignore', 'pipe', 'inherit'] });
await new Promise((ready) => server.stdout.on('data', (text) => /Ready/.test(String(text)) && ready()));
run(bin('tsx'), ['bench/screen.ts'], { env: { ...process.env, CHROMIUM: browser, ADDRESS: `http://localhost:${port}` } });
server.kill();
process.exit(0);
