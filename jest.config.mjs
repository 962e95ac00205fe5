/** @type {import('jest').Config} */
export default {
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  testPathIgnorePatterns: ['/node_modules/', '/web/e2e/', '/web/.next/'],
  modulePathIgnorePatterns: ['<rootDir>/web/.next'],
  transform: { '^.+\\.tsx?$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } } }] },
};
