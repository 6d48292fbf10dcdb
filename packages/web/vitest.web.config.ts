import { defineConfig } from 'vitest/config';

/** How quick the machine is must never decide a test: far longer than any of them takes on a busy one. */
const PATIENT_MS = 60_000;

export default defineConfig({ test: { testTimeout: PATIENT_MS, hookTimeout: PATIENT_MS } });
