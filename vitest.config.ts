import { defineConfig } from 'vitest/config';

/** Property tests draw the same examples each time; see the file. */
const setupFiles = ['packages/core/src/testing/property-seed.ts'];

/** How quick the machine is must never decide a test: far longer than any of them takes on a busy one. */
const PATIENT_MS = 60_000;

/**
 * Files share their worker's modules, which would take longer to load anew for each file than most files run. So no test
 * leaves state in a module behind.
 */
const isolate = false;

/** Core, simulator, server and launcher tests. The web package has its own runner (`ng test`). */
export default defineConfig({
  test: {
    // Server tests wait for databases and sockets most of the time.
    maxWorkers: 3,
    projects: [
      {
        test: {
          name: 'core',
          include: ['packages/core/src/**/*.spec.ts'],
          environment: 'node',
          isolate,
          setupFiles,
          testTimeout: PATIENT_MS,
          hookTimeout: PATIENT_MS,
        },
      },
      {
        test: {
          name: 'simulator',
          include: ['packages/simulator/src/**/*.spec.ts', 'bin/**/*.spec.ts'],
          environment: 'node',
          isolate,
          setupFiles,
          testTimeout: PATIENT_MS,
          hookTimeout: PATIENT_MS,
        },
      },
      {
        test: {
          name: 'server',
          include: ['packages/server/src/**/*.spec.ts'],
          environment: 'node',
          isolate,
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
