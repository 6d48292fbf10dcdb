import { PassThrough } from 'node:stream';
import type { Topic } from '@baton/contract';
import type { Middleware } from 'koa';

/** Tells every open page what has changed (server-sent events), at most a few times a second. */
export class LiveStream {
  private readonly pages = new Set<PassThrough>();
  private readonly waiting = new Set<Topic>();
  private timer: NodeJS.Timeout | null = null;

  /** How long changes are gathered before they are told. */
  constructor(private readonly gatherMs = 150) {}

  changed(topic: Topic): void {
    this.waiting.add(topic);
    this.timer ??= setTimeout(() => this.tell(), this.gatherMs).unref();
  }

  private tell(): void {
    this.timer = null;
    const line = `data: ${JSON.stringify([...this.waiting])}\n\n`;
    this.waiting.clear();
    for (const page of this.pages) page.write(line);
  }

  readonly handler: Middleware = (ctx) => {
    const page = new PassThrough();
    this.pages.add(page);
    ctx.req.on('close', () => this.pages.delete(page));
    ctx.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', Connection: 'keep-alive' });
    ctx.status = 200;
    ctx.body = page;
    page.write('retry: 1000\n\n');
  };

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    for (const page of this.pages) page.end();
  }
}
