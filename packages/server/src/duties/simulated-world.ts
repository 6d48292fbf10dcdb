import { DomainError } from '@baton/core';
import type { OutsideWorld } from './conductor';

/** The simulator's control desk as this process reaches it. */
export interface SimulatorClient {
  /** @throws DomainError `unreachable` or, for what the simulator refuses, `invalid` */
  call(method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown): Promise<unknown>;
}

const TIMEOUT_MS = 30_000;

export function simulatorClient(url: string): SimulatorClient {
  return {
    async call(method, path, body) {
      let response: Response;
      try {
        response = await fetch(`${url}${path}`, {
          method,
          signal: AbortSignal.timeout(TIMEOUT_MS),
          ...(body === undefined
            ? {}
            : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
        });
      } catch (error) {
        throw new DomainError('unreachable', 'The simulator does not answer.', { cause: error });
      }
      const answer = (await response.json()) as { error?: string };
      if (!response.ok) throw new DomainError('invalid', answer.error ?? 'The simulator refused.');
      return answer;
    },
  };
}

export function simulatedWorld(client: SimulatorClient): OutsideWorld {
  return {
    advance: async (toMs) => ((await client.call('POST', '/advance', { toMs })) as { nextDue: number | null }).nextDue,
  };
}
