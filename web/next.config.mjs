import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), '..');

/** What the page may load: itself and nothing else. Next starts a page by scripts in it; nothing is made of text at run time. */
const POLICY = ["default-src 'self'", "script-src 'self' 'unsafe-inline'", "style-src 'self' 'unsafe-inline'", "img-src 'self' data: blob:", "font-src 'self'", "connect-src 'self'", "worker-src 'self' blob:", "object-src 'none'", "base-uri 'self'", "form-action 'self'", "frame-ancestors 'none'"].join('; ');

/** @type {import('next').NextConfig} */
export default {
  reactStrictMode: true,
  // The core lies beside web/, so the bundler's root is the repository.
  turbopack: { root },
  // Types are checked by `npm test` over the whole repository.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  poweredByHeader: false,
  // Answers of the core are kept in the browser by the build that gave them.
  env: { BUILD: Date.now().toString(36) },
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'Content-Security-Policy', value: POLICY },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'no-referrer' },
          { key: 'X-Frame-Options', value: 'DENY' },
        ],
      },
      // What answers programs is no page.
      { source: '/api/:path*', headers: [{ key: 'Content-Security-Policy', value: "default-src 'none'" }] },
    ]),
};
