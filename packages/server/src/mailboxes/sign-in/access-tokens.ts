import { setTimeout as pause } from 'node:timers/promises';
import { DomainError, SECOND_MS } from '@baton/core';
import type { Secrets } from '../../security/secrets';
import { claimRenewal, readGrant, updateGrant, type GrantWithProvider } from '../../store/mailboxes/grant-rows';
import type { Store } from '../../store/database';
import { systemClock } from '../../time/system-clock';
import type { WorkspaceClock } from '../../time/workspace-clock';
import { renewTokens } from './authorization-server';
import { registrationOf, sealedTokens } from './registration';

/** How long the right to renew lasts: longer than the provider may take for its answer. */
const RENEWING_MS = 45 * SECOND_MS;
/** How long, and how often, is looked for what another process is renewing. */
const LOOKS = 120;
const LOOK_MS = 500;

const UNREADABLE =
  'Its access cannot be read: the key file is not the one with which it was kept. Sign in at the provider again.';
const NOT_GIVEN = 'Nobody has signed in at the provider yet.';

interface AccessTokensParts {
  store: Pick<Store, 'db'>;
  secrets: Secrets;
  /** By which tokens expire. */
  clock: WorkspaceClock;
}

/** Access tokens by grant, renewed before they expire. Any number of processes may ask; one of them renews. */
export class AccessTokens {
  constructor(private readonly parts: AccessTokensParts) {}

  /**
   * A token that is good as far as is known.
   *
   * @param refused one that the mail server has refused: another is got
   * @throws DomainError `refused` where a person has to do something, `unreachable` where it may work later
   */
  async of(grantId: number, refused?: string): Promise<string> {
    const { db } = this.parts.store;
    for (let i = 0; i < LOOKS; i++) {
      const { token, isDue } = await this.state(grantId, refused);
      if (token !== null && !isDue) return token;
      const realMs = systemClock.now();
      if (await claimRenewal(db, grantId, realMs, realMs + RENEWING_MS)) return this.renew(grantId, refused);
      // Somebody else renews it: the old one is good until then, or the new one is soon there.
      if (token !== null) return token;
      await pause(LOOK_MS);
    }
    throw new DomainError('unreachable', 'The provider has not renewed the access yet.');
  }

  /** @throws DomainError `refused` where its tokens were kept with another key */
  async check(grantId: number): Promise<void> {
    const found = await readGrant(this.parts.store.db, grantId);
    if (found?.grant.refreshTokenSealed) this.open(found.grant.refreshTokenSealed);
  }

  private open(sealed: string): string {
    try {
      return this.parts.secrets.open(sealed);
    } catch (error) {
      throw new DomainError('refused', UNREADABLE, { cause: error });
    }
  }

  /**
   * The token there is, null where it has expired or was refused, and whether it is to be renewed.
   *
   * @throws DomainError `refused` where no access was given, or it has ended
   */
  private async state(grantId: number, refused: string | undefined): Promise<State> {
    const nowMs = await this.parts.clock.now();
    const found = await readGrant(this.parts.store.db, grantId);
    const sealed = found?.grant.accessTokenSealed ?? null;
    if (!found || (sealed === null && found.grant.refreshTokenSealed === null))
      throw new DomainError('refused', found?.grant.refusal ?? NOT_GIVEN);
    const { expiresAt, renewAt } = found.grant;
    const kept = sealed === null || (expiresAt !== null && nowMs >= expiresAt) ? null : this.open(sealed);
    return { ...found, nowMs, token: kept === refused ? null : kept, isDue: renewAt !== null && nowMs >= renewAt };
  }

  private async renew(grantId: number, refused: string | undefined): Promise<string> {
    try {
      // Another process may have done it between the look and the claim; only its refresh token is good.
      const state = await this.state(grantId, refused);
      return state.token !== null && !state.isDue ? state.token : await this.ask(state);
    } finally {
      await updateGrant(this.parts.store.db, grantId, { renewingUntil: null });
    }
  }

  private async ask({ grant, provider, token, nowMs }: State): Promise<string> {
    const { secrets, store } = this.parts;
    const { id, refreshTokenSealed } = grant;
    if (refreshTokenSealed === null) return this.end(id, NO_LASTING_ACCESS);
    const answer = await renewTokens(registrationOf(provider, secrets), this.open(refreshTokenSealed));
    if (answer.ok) {
      await updateGrant(store.db, id, sealedTokens(answer.tokens, secrets, nowMs));
      return answer.tokens.accessToken;
    }
    if (answer.verdict === 'withdrawn') return this.end(id, answer.words);
    if (answer.verdict === 'misconfigured') throw new DomainError('refused', answer.words);
    // It is good for some minutes yet, in which the provider may come back.
    if (token !== null) return token;
    throw new DomainError('unreachable', answer.words);
  }

  /** What is no good any more is not kept. */
  private async end(grantId: number, refusal: string): Promise<never> {
    await updateGrant(this.parts.store.db, grantId, { ...NO_TOKENS, refusal });
    throw new DomainError('refused', refusal);
  }
}

interface State extends GrantWithProvider {
  token: string | null;
  isDue: boolean;
  nowMs: number;
}

const NO_TOKENS = { refreshTokenSealed: null, accessTokenSealed: null, renewAt: null, expiresAt: null };

export const NO_LASTING_ACCESS =
  'The provider gave access for a limited time only. Ask for lasting access in its settings (often the scope offline_access, or the extra parameter access_type=offline), and sign in again.';
