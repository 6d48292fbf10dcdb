import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: './packages/server/src/store/schema/schema.ts',
  out: './packages/server/migrations',
  casing: 'snake_case',
});
