import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { STATE } from '../../../../bin/lib/paths.mjs';
import { build } from '../../../../bin/lib/build.mjs';
import { startCluster } from '../../../../bin/lib/postgres.mjs';
import { preparePostgres } from '../../../../bin/lib/prepare.mjs';
import { migrateStore, openStore } from '../store/database';

declare module 'vitest' {
  export interface ProvidedContext {
    /** The cluster's own database, from which test databases are made. */
    postgresUrl: string;
  }
}

/** The migrated database that every test file's own is cloned from. */
export const TEMPLATE = 'baton_template';

/** One cluster a run: the one `npm test` has started, or one of its own. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const given = process.env['BATON_TEST_POSTGRES'];
  const dir = join(STATE, `vitest-postgres-${process.pid}`);
  // Files are read by a built program, in a thread.
  await build({ web: false });
  const own = given === undefined ? await startCluster({ bin: preparePostgres() as string, dir, fast: true }) : null;
  const url = given ?? (own as NonNullable<typeof own>).url('postgres');
  await makeTemplate(url);
  project.provide('postgresUrl', url);
  return async () => {
    if (!own) return;
    await own.stop();
    await rm(dir, { recursive: true, force: true });
  };
}

async function makeTemplate(url: string): Promise<void> {
  const root = openStore(url);
  await root.pool.query(`drop database if exists ${TEMPLATE} with (force)`);
  await root.pool.query(`create database ${TEMPLATE}`);
  await root.close();
  const template = openStore(withDatabase(url, TEMPLATE));
  await migrateStore(template);
  await template.close();
}

export function withDatabase(url: string, name: string): string {
  const changed = new URL(url);
  changed.pathname = `/${name}`;
  return changed.href;
}
