/** @type {import('jest').Config} */
export default {
  // All cores: the main process only waits.
  maxWorkers: '100%',
  // A machine that stands still for a while is no fault of what is tested; work that could go on for ever is bounded by itself.
  testTimeout: 300_000,
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  testPathIgnorePatterns: ['/node_modules/', '/web/e2e/', '/web/.next/'],
  setupFiles: ['<rootDir>/scripts/fixedSeed.mjs'],
  modulePathIgnorePatterns: ['<rootDir>/web/.next'],
  transform: {
    '^.+\\.(tsx?|m?js)$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } } } }],
  },
  // Names of the global object are slow to look up in a test's own context; as arguments of each module they are not.
  sandboxInjectedGlobals: ['Math', 'Float64Array', 'Map', 'Set', 'Array', 'Object', 'Number', 'Infinity'],
  // These come as modules only.
  transformIgnorePatterns: ['/node_modules/(?!(d3|d3-[a-z-]+|internmap|delaunator|robust-predicates|p-queue|p-timeout|eventemitter3)/)'],
  // Its bundle: modules of it are named like globals of the line above.
  moduleNameMapper: { '^apache-arrow$': '<rootDir>/node_modules/apache-arrow/Arrow.es2015.min.js', '\\.module\\.css$': '<rootDir>/scripts/noStyles.cjs' },
};
