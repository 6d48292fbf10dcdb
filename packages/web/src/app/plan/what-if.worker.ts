/// <reference lib="webworker" />
import type { PlanChange } from '@baton/core';
import type { PlanWork } from '@baton/contract';
import { answerRange, answerWhatIf, type WhatIfAnswer } from './what-if-answer';

/** What the worker is told: the work once, then questions about it. */
export type WhatIfQuestion =
  { work: PlanWork } | { ask: number; changes: PlanChange[] } | { ask: number; rates: { low: number; high: number }[] };

export type WhatIfReply =
  | { ask: number; answer: WhatIfAnswer }
  | { ask: number; range: ReturnType<typeof answerRange> }
  | { ask: number; error: string };

let work: PlanWork | null = null;

addEventListener('message', ({ data }: MessageEvent<WhatIfQuestion>) => {
  if ('work' in data) {
    work = data.work;
    return;
  }
  if (!work) return;
  try {
    const reply: WhatIfReply =
      'changes' in data
        ? { ask: data.ask, answer: answerWhatIf(work, data.changes) }
        : { ask: data.ask, range: answerRange(work, data.rates) };
    postMessage(reply);
  } catch (error) {
    postMessage({ ask: data.ask, error: error instanceof Error ? error.message : String(error) } satisfies WhatIfReply);
  }
});
