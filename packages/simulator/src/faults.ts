export const FAULTS = ['drop_at_mail', 'refuse_at_mail', 'drop_before_taking', 'drop_after_taking'] as const;
export type Fault = (typeof FAULTS)[number];

/** Troubles that tests order: the next so many sends of an account meet them. */
export class Faults {
  private readonly ordered = new Map<string, number>();
  private readonly pauses = new Map<string, number>();

  order(account: string, fault: Fault, times: number): void {
    this.ordered.set(`${account} ${fault}`, times);
  }

  take(account: string, fault: Fault): boolean {
    const left = this.ordered.get(`${account} ${fault}`) ?? 0;
    if (left > 0) this.ordered.set(`${account} ${fault}`, left - 1);
    return left > 0;
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
