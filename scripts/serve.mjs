import { createServer } from 'node:http';
import path from 'node:path';
import next from 'next';
import { root, run } from './setUp.mjs';

/**
 * Serve what is built. A path that is no text is told so (400) before anything looks at it.
 * @returns the server, once it listens
 */
export async function serve(port, host = 'localhost') {
  // What checks designs for others is the compiled command.
  process.env.REED_ROOT = root;
  run(process.execPath, [path.join(root, 'scripts', 'reed.mjs'), '--help'], { stdio: 'ignore' });
  const app = next({ dev: false, dir: path.join(root, 'web'), hostname: host, port });
  await app.prepare();
  const handle = app.getRequestHandler();
  const server = createServer((request, response) => {
    try {
      decodeURIComponent(request.url ?? '/');
    } catch {
      response.writeHead(400, { 'Content-Type': 'text/plain; charset=utf-8', 'X-Content-Type-Options': 'nosniff' }).end('This address can not be read.\n');
      return;
    }
    // Who asks is who is connected, whatever the request says of itself.
    request.headers['x-reed-address'] = request.socket.remoteAddress ?? '';
    void handle(request, response);
  });
  await new Promise((done, failed) => server.once('error', failed).listen(port, host, done));
  return server;
}
