/**
 * Tests that draw or run on for longer where they are asked to: THOROUGH=1 npx jest core/converter. What `npm test` has
 * no time for is held by the same tests, not by others.
 */
const THOROUGH = process.env.THOROUGH === '1';

/** As many draws as there is time for. */
export const runs = (usually: number, thorough: number): number => (THOROUGH ? thorough : usually);

/** What is always held, and what only a thorough run has time for. */
export const among = <T>(usually: readonly T[], more: readonly T[]): T[] => [...usually, ...(THOROUGH ? more : [])];

/** ms that a test may take. */
export const patience = (usually: number, thorough: number): number => (THOROUGH ? thorough : usually);
