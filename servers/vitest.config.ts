import { defineConfig } from 'vitest/config';

/** Baton against real mail servers; run by `npm run test:servers`. */
export default defineConfig({
  test: {
    include: ['servers/**/*.spec.ts'],
    environment: 'node',
    globalSetup: ['packages/server/src/testing/global-setup.ts'],
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
