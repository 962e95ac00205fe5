import fc from 'fast-check';

// What property tests are drawn from: fixed in CI, told by scripts/test.mjs; a failure prints its own besides.
const seed = Number(process.env.FC_SEED);
if (Number.isInteger(seed)) fc.configureGlobal({ ...fc.readConfigureGlobal(), seed });
