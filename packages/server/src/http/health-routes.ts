import type Router from '@koa/router';
import { isoDate } from '@baton/core';
import { collectDefaultMetrics, Counter, Gauge, Registry } from 'prom-client';
import { readCounted, type Counted } from '../store/activity/metric-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import type { ServerParts } from './context';
import { exactRouter } from './exact-router';

/** For those who watch over Baton: whether it runs, whether it can work, and its counts in the form of Prometheus. */
export function healthRoutes({ store, clock }: ServerParts): Router {
  const router = exactRouter();
  const metrics = new Metrics();
  router.get('/healthz', (ctx) => {
    ctx.type = 'text';
    ctx.body = 'ok';
  });
  // Without its database nothing can be done; that is told of as it is everywhere, with 503.
  router.get('/readyz', async (ctx) => {
    await readWorkspace(store.db);
    ctx.type = 'text';
    ctx.body = 'ok';
  });
  router.get('/metrics', async (ctx) => {
    const nowMs = await clock.now();
    const { zone } = await readWorkspace(store.db);
    const today = isoDate(zones.get(zone).toLocal(nowMs).day);
    metrics.take(await readCounted(store.db, nowMs, today), nowMs);
    ctx.type = metrics.registry.contentType;
    ctx.body = await metrics.registry.metrics();
  });
  return router;
}

class Metrics {
  readonly registry = new Registry();
  private readonly deliveries = this.gauge('baton_deliveries', 'Messages of campaigns by state', ['state']);
  private readonly mailboxes = this.gauge('baton_mailboxes', 'Mailboxes by what keeps them from sending', ['state']);
  private readonly due = this.gauge('baton_due_messages', 'Messages whose time has come and that have not left');
  private readonly late = this.gauge('baton_due_oldest_seconds', 'How long the first of them has been due');
  private readonly attempts = this.counter(
    'baton_attempts_total',
    'Tries to hand a message over, by what came of them',
    'verdict',
  );
  private readonly incoming = this.counter('baton_incoming_total', 'Messages that came in, by kind', 'kind');

  constructor() {
    collectDefaultMetrics({ register: this.registry });
  }

  /** Takes over what the database has counted. */
  take(counted: Counted, nowMs: number): void {
    for (const [gauge, counts] of [
      [this.deliveries, counted.deliveries],
      [this.mailboxes, counted.mailboxes],
    ] as const) {
      gauge.reset();
      for (const [state, n] of Object.entries(counts)) gauge.set({ state }, n);
    }
    this.due.set(counted.due);
    this.late.set(counted.dueSince === null ? 0 : (nowMs - counted.dueSince) / 1000);
    this.attempts.reset();
    for (const [verdict, n] of Object.entries(counted.attempts)) this.attempts.inc({ verdict }, n);
    this.incoming.reset();
    for (const [kind, n] of Object.entries(counted.incoming)) this.incoming.inc({ kind }, n);
  }

  private gauge(name: string, help: string, labelNames: string[] = []): Gauge {
    return new Gauge({ name, help, labelNames, registers: [this.registry] });
  }

  private counter(name: string, help: string, label: string): Counter {
    return new Counter({ name, help, labelNames: [label], registers: [this.registry] });
  }
}
