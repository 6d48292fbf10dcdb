import { DestroyRef, inject, Injectable, InjectionToken } from '@angular/core';
import type { PlanChange } from '@baton/core';
import type { PlanWork } from '@baton/contract';
import type { answerRange, WhatIfAnswer } from './what-if-answer';
import type { WhatIfQuestion, WhatIfReply } from './what-if.worker';

/** Makes the worker; a test has its own. */
export const WHAT_IF_WORKER = new InjectionToken<() => Pick<Worker, 'postMessage' | 'terminate' | 'onmessage'>>(
  'what-if worker',
  { factory: () => () => new Worker(new URL('./what-if.worker', import.meta.url), { type: 'module' }) },
);

/** Asks the worker what would be; the page never waits for a plan. */
@Injectable()
export class WhatIfPlanner {
  private readonly worker = inject(WHAT_IF_WORKER)();
  private readonly waiting = new Map<number, { resolve(reply: WhatIfReply): void; reject(error: Error): void }>();
  private asked = 0;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<WhatIfReply>) => {
      const waiter = this.waiting.get(data.ask);
      this.waiting.delete(data.ask);
      if ('error' in data) waiter?.reject(new Error(data.error));
      else waiter?.resolve(data);
    };
    inject(DestroyRef).onDestroy(() => this.worker.terminate());
  }

  setWork(work: PlanWork): void {
    this.worker.postMessage({ work } satisfies WhatIfQuestion);
  }

  async plan(changes: PlanChange[]): Promise<WhatIfAnswer> {
    const reply = await this.ask((ask) => ({ ask, changes }));
    if (!('answer' in reply)) throw new Error('The worker answered something else.');
    return reply.answer;
  }

  async range(rates: { low: number; high: number }[]): Promise<ReturnType<typeof answerRange>> {
    const reply = await this.ask((ask) => ({ ask, rates }));
    if (!('range' in reply)) throw new Error('The worker answered something else.');
    return reply.range;
  }

  private ask(question: (ask: number) => WhatIfQuestion): Promise<WhatIfReply> {
    const ask = ++this.asked;
    return new Promise((resolve, reject) => {
      this.waiting.set(ask, { resolve, reject });
      this.worker.postMessage(question(ask));
    });
  }
}
