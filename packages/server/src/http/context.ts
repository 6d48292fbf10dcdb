import type { Logger } from 'pino';
import type { Config } from '../config';
import type { SimulatorClient } from '../duties/simulated-world';
import type { AccessTokens } from '../mailboxes/sign-in/access-tokens';
import type { CompiledMessages } from '../messages/compiled-messages';
import type { Secrets } from '../security/secrets';
import type { OwnMachine } from '../signals/own-machine';
import type { Store } from '../store/database';
import type { WorkspaceClock } from '../time/workspace-clock';

/** What every route may need; built once in main.ts. */
export interface ServerParts {
  config: Config;
  store: Store;
  clock: WorkspaceClock;
  secrets: Secrets;
  tokens: AccessTokens;
  ownMachine: OwnMachine;
  simulator: SimulatorClient | null;
  log: Logger;
  /** Compiled messages of this process. */
  compiled: CompiledMessages;
}
