import { createServer } from 'node:net';
import { expect, test } from 'vitest';
import { freePort, requireFree } from './ports.mjs';

test('no port is given out twice, though nobody listens at it yet', async () => {
  const ports = await Promise.all(Array.from({ length: 300 }, freePort));
  expect(new Set(ports).size).toBe(300);
});

test('a port that is taken is told, with what to do', async () => {
  const port = await freePort();
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  await expect(requireFree(port, 'its web page', 'BATON_PORT')).rejects.toThrow(
    `Port ${port}, which Baton needs for its web page, is taken by another program. Stop that program, or choose another port:  BATON_PORT=${port + 1} npm run demo`,
  );
  await new Promise((resolve) => server.close(resolve));
  await requireFree(port, 'its web page', 'BATON_PORT');
});
