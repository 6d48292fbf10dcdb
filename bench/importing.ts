import { readFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { SERVER_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { freePort } from '../bin/lib/ports.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import { print } from './row';

const ROWS = Number(process.env['BATON_BENCH_ROWS'] ?? 1_000_000);
const HEADER = 'email,given name,family name,company,region,city,acres,since,phone,language,source,note';
const REGIONS = ['North', 'South', 'East', 'West', 'Islands', 'Coast', 'Hills', 'Valley'];
const NAMES = ['Ana', 'Bo', 'Cleo', 'Dara', 'Emil', 'Gwen', 'Hugo', 'Ines', 'Jonas', 'Kira'];

function* csv(): Generator<Buffer> {
  let text = `${HEADER}\n`;
  for (let i = 0; i < ROWS; i++) {
    text += `p${i}@grove${i % 9000}.example,${NAMES[i % 10]},Vidal ${i % 977},Grove & Daughters ${i % 9000},${REGIONS[i % 8]},Haven ${i % 300},${i % 90},2026-0${1 + (i % 9)}-11,+353 1 ${i},en,fair ${i % 12},met at the harbour stand\n`;
    if (text.length > 500_000) {
      yield Buffer.from(text);
      text = '';
    }
  }
  yield Buffer.from(text);
}

/** Reading, cleaning and storing a large file, and the pages of the list that it makes. */
export async function importing(): Promise<void> {
  const dir = join(STATE, `bench-postgres-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  const processes = new Processes();
  const port = await freePort();
  const env = {
    DATABASE_URL: cluster.url('bench'),
    BATON_PORT: String(port),
    BATON_KEY_FILE: join(STATE, `bench-${process.pid}.key`),
    BATON_ZONE: 'UTC',
  };
  try {
    cluster.createDatabase('bench');
    await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
    await processes.start('The server', SERVER_MAIN, ['serve'], env, () => undefined);
    const worker = (await processes.start('The worker', SERVER_MAIN, ['work'], env, () => undefined)) as {
      pid: number;
    };
    const database = new pg.Client({ connectionString: cluster.url('bench') });
    await database.connect();
    const bare = await barely(database);
    const api = `http://127.0.0.1:${port}/api`;
    const taken = await throughBaton(api, worker.pid);
    print({
      name: `import ${ROWS.toLocaleString('en')} rows of 12 columns`,
      ratio: taken.ms / bare,
      goal: 2,
      unit: 'times parsing them and COPY into a bare table',
      rowsPerSecond: Math.round((ROWS / taken.ms) * 1000),
      memoryAboveIdleMB: Math.round(taken.memory),
    });
    await pages(api, database);
    await database.end();
  } finally {
    await processes.stop();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
    await rm(env.BATON_KEY_FILE, { force: true });
  }
}

async function barely(database: pg.Client): Promise<number> {
  const columns = HEADER.split(',').map((_, i) => `c${i} text`);
  await database.query(`create table bare (${columns.join(', ')})`);
  const from = performance.now();
  const copy = database.query(copyFrom('copy bare from stdin'));
  const line = (row: string[]) => `${row.map((c) => c.replace(/[\\\n\r\t]/g, ' ')).join('\t')}\n`;
  await new Promise<void>((resolve, reject) => {
    let isFirst = true;
    Papa.parse<string[]>(Readable.from(csv()), {
      chunk: ({ data }, parser) => {
        const rows = data.slice(isFirst ? 1 : 0).filter((r) => r.length === 12);
        isFirst = false;
        if (copy.write(rows.map(line).join(''))) return;
        parser.pause();
        copy.once('drain', () => parser.resume());
      },
      complete: () => copy.end(),
      error: reject,
    });
    copy.once('finish', resolve).once('error', reject);
  });
  const ms = performance.now() - from;
  await database.query('drop table bare');
  return ms;
}

const memoryOf = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0) / 1024;

async function throughBaton(api: string, pid: number): Promise<{ ms: number; memory: number }> {
  const headers = { 'x-baton': '1' };
  const upload = await fetch(`${api}/imports`, {
    method: 'POST',
    headers: { ...headers, 'x-file-name': 'large.csv' },
    body: Readable.toWeb(Readable.from(csv())) as ReadableStream,
    duplex: 'half',
  } as RequestInit);
  const { id } = (await upload.json()) as { id: number };
  const idle = memoryOf(pid);
  let most = idle;
  const from = performance.now();
  await fetch(`${api}/imports/${id}/keep`, {
    method: 'POST',
    headers: { ...headers, 'content-type': 'application/json' },
    body: '{}',
  });
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    most = Math.max(most, memoryOf(pid));
    const left = (await (await fetch(`${api}/large-imports`)).json()) as { state: string; problem?: string }[];
    if (left.length === 0) break;
    if (left[0]?.state === 'failed') throw new Error('the import failed');
  }
  return { ms: performance.now() - from, memory: most - idle };
}

/** A page of 100 rows by filter and order, against 100 rows by their keys. */
async function pages(api: string, database: pg.Client): Promise<void> {
  await database.query('vacuum analyze list_rows');
  const headers = { 'x-baton': '1', 'content-type': 'application/json' };
  const post = async <T>(path: string, body: unknown): Promise<T> => {
    const response = await fetch(`${api}${path}`, { method: 'POST', headers, body: JSON.stringify(body) });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (await response.json()) as T;
  };
  const query = {
    search: '',
    filters: [{ key: 'region', kind: 'among', values: ['North', 'Coast'], not: false }],
    sort: [{ key: 'company', descending: false }],
  };
  const page = () => post<{ rowId: number }[]>('/lists/1/rows', { query, limit: 100 });
  const rows = (await page()).map((r) => r.rowId);
  await ready(page);
  const keyed = await quickest(() => post('/lists/1/rows-by-id', { rows }));
  const found = await quickest(page);
  print({
    name: `a page of 100 of ${ROWS.toLocaleString('en')} rows, by a filter and an order`,
    ratio: found / keyed,
    goal: 5,
    unit: 'times 100 rows by their keys',
    milliseconds: Number(found.toFixed(1)),
  });
}

/** Waits until an order asked for often has its index. */
async function ready(page: () => Promise<unknown>): Promise<void> {
  const first = performance.now();
  while (performance.now() - first < 60_000) {
    const from = performance.now();
    await page();
    if (performance.now() - from < 50) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

async function quickest(act: () => Promise<unknown>): Promise<number> {
  let ms = Infinity;
  for (let i = 0; i < 20; i++) {
    const from = performance.now();
    await act();
    ms = Math.min(ms, performance.now() - from);
  }
  return ms;
}
