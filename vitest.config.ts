import { defineConfig } from 'vitest/config';

/** Property tests draw the same examples each time; see the file. */
const setupFiles = ['packages/core/src/testing/property-seed.ts'];

/** Core, simulator, server and launcher tests. The web package has its own runner (`ng test`). */
export default defineConfig({
  test: {
    // Server tests wait for databases and sockets most of the time.
    maxWorkers: 3,
    projects: [
      { test: { name: 'core', include: ['packages/core/src/**/*.spec.ts'], environment: 'node', setupFiles } },
      {
        test: {
          name: 'simulator',
          include: ['packages/simulator/src/**/*.spec.ts', 'bin/**/*.spec.ts'],
          environment: 'node',
          setupFiles,
        },
      },
      {
        test: {
          name: 'server',
          include: ['packages/server/src/**/*.spec.ts'],
          environment: 'node',
          setupFiles,
          globalSetup: ['packages/server/src/testing/global-setup.ts'],
          // A simulated week takes seconds; how many depends on what else the machine does.
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
    ],
  },
});
