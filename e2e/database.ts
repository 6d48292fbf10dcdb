import pg from 'pg';

/** Makes a database. @returns its address */
export async function createDatabase(root: string, name: string): Promise<string> {
  const client = new pg.Client({ connectionString: root });
  await client.connect();
  await client.query(`create database "${name}"`);
  await client.end();
  const url = new URL(root);
  url.pathname = `/${name}`;
  return url.href;
}
