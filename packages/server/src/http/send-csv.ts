import type { Context } from 'koa';

/** A file to save; the byte order mark tells spreadsheets that it is UTF-8. */
export function sendCsv(ctx: Context, name: string, csv: string): void {
  ctx.attachment(name);
  ctx.type = 'text/csv; charset=utf-8';
  ctx.body = `\ufeff${csv}`;
}
