/** What a log may say of an error: its kind, its code and where it happened; never its message, which may hold an address or a value. */
export function forLog(error: unknown): { err: string; code: string | undefined; at: string | undefined } {
  const e = error as Error & { code?: string };
  return { err: e.name, code: e.code, at: e.stack?.split('\n    at ').slice(1, 4).join(' < ') };
}
