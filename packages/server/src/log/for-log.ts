/**
 * What a log may say of an error: its kind and that of what caused it, its code and where it happened; never its
 * message, which may hold an address or a value.
 */
export function forLog(error: unknown): { err: string; code: string | undefined; at: string | undefined } {
  const chain: (Error & { code?: unknown })[] = [];
  for (let e = error; e instanceof Error && chain.length < MOST_CAUSES; e = e.cause) chain.push(e);
  const code = chain.map((e) => e.code).find((c) => typeof c === 'string' || typeof c === 'number');
  return {
    err: chain.map((e) => (e.name === 'Error' ? e.constructor.name : e.name)).join(' < ') || typeof error,
    code: code === undefined ? undefined : String(code as string | number),
    at: chain.at(0)?.stack?.split('\n    at ').slice(1, 4).join(' < '),
  };
}

const MOST_CAUSES = 5;
