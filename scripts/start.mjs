import { spawn } from 'node:child_process';
import path from 'node:path';
import { bin, build, install, root } from './setUp.mjs';

/** npm start: install and build what is missing, serve, print the address. */
install();
build();
const port = process.env.PORT ?? '3000';
const server = spawn(bin('next'), ['start', '-p', port], {
  cwd: path.join(root, 'web'),
  stdio: ['ignore', 'pipe', 'inherit'],
  env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
});
server.stdout.on('data', (text) => {
  if (/Ready/.test(String(text))) console.log(`\nJump Reed is at http://localhost:${port}  (Ctrl C stops it)\n`);
});
server.on('exit', (code) => process.exit(code ?? 0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
