import { Agent, request } from 'node:http';
import { DomainError } from '@baton/core';
import type { OutsideWorld } from './conductor';

/** The simulator's control desk as this process reaches it. */
export interface SimulatorClient {
  /** @throws DomainError `unreachable` or, for what the simulator refuses, `invalid` */
  call(method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown): Promise<unknown>;
}

const TIMEOUT_MS = 30_000;

/**
 * Speaks through Node's own client over a kept connection: the clock asks several thousand times a simulated week, and
 * `fetch` took three times as long.
 */
export function simulatorClient(url: string): SimulatorClient {
  const agent = new Agent({ keepAlive: true, maxSockets: 4 });
  return {
    async call(method, path, body) {
      let answer: { status: number; text: string };
      try {
        answer = await ask(`${url}${path}`, agent, method, body === undefined ? null : JSON.stringify(body));
      } catch (error) {
        throw new DomainError('unreachable', 'The simulator does not answer.', { cause: error });
      }
      const said = JSON.parse(answer.text) as { error?: string };
      if (answer.status >= 400) throw new DomainError('invalid', said.error ?? 'The simulator refused.');
      return said;
    },
  };
}

function ask(
  url: string,
  agent: Agent,
  method: string,
  body: string | null,
): Promise<{ status: number; text: string }> {
  const headers =
    body === null ? {} : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
  return new Promise((resolve, reject) => {
    const asked = request(url, { agent, method, headers, timeout: TIMEOUT_MS }, (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('error', reject);
      response.on('end', () =>
        resolve({ status: response.statusCode ?? 500, text: Buffer.concat(chunks).toString('utf8') }),
      );
    });
    asked.on('timeout', () => asked.destroy(new Error('timeout')));
    asked.on('error', (error: NodeJS.ErrnoException) => {
      // A kept connection that the other side had closed meanwhile.
      if (asked.reusedSocket && error.code === 'ECONNRESET') ask(url, agent, method, body).then(resolve, reject);
      else reject(error);
    });
    asked.end(body ?? undefined);
  });
}

export function simulatedWorld(client: SimulatorClient): OutsideWorld {
  return {
    advance: async (toMs) => ((await client.call('POST', '/advance', { toMs })) as { nextDue: number | null }).nextDue,
  };
}
