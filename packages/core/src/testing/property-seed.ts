import fc from 'fast-check';

/**
 * Property tests draw the same examples on every run, so that a change is judged by what it changed. To look further,
 * name another seed and more examples: `BATON_SEED=7 BATON_EXAMPLES=20000 npx vitest run --project core`.
 */
const { BATON_SEED = '20270301', BATON_EXAMPLES } = process.env;

fc.configureGlobal({
  seed: Number(BATON_SEED),
  ...(BATON_EXAMPLES === undefined ? {} : { numRuns: Number(BATON_EXAMPLES) }),
});
