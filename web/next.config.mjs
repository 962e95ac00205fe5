import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), '..');

/** @type {import('next').NextConfig} */
export default {
  reactStrictMode: true,
  // The core lies beside web/, so the bundler's root is the repository.
  turbopack: { root },
  // Types are checked by `npm test` over the whole repository.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
};
