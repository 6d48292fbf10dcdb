export const FAULTS = [
  'drop_at_mail',
  'refuse_at_mail',
  'drop_before_taking',
  'drop_after_taking',
  'drop_at_body',
  'refuse_search',
  'token_unavailable',
  'token_garbage',
] as const;
export type Fault = (typeof FAULTS)[number];

/** Troubles that tests order: the next so many sends or requests of an account meet them. */
export class Faults {
  private readonly ordered = new Map<string, { after: number; left: number }>();
  private readonly pauses = new Map<string, number>();

  /** @param after so many go well first */
  order(account: string, fault: Fault, times: number, after = 0): void {
    this.ordered.set(`${account} ${fault}`, { after, left: times });
  }

  take(account: string, fault: Fault): boolean {
    const order = this.ordered.get(`${account} ${fault}`);
    if (!order || order.left === 0) return false;
    if (order.after > 0) {
      order.after--;
      return false;
    }
    order.left--;
    return true;
  }

  /** From now on the account's server thinks this long before it says that it took a message. */
  slow(account: string, realMs: number): void {
    this.pauses.set(account, realMs);
  }

  async pause(account: string): Promise<void> {
    const ms = this.pauses.get(account) ?? 0;
    if (ms > 0) await new Promise((resolve) => setTimeout(resolve, ms));
  }
}
