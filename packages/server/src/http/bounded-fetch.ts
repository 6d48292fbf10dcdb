/** What an answer may take at most. */
export interface FetchBounds {
  patienceMs: number;
  mostBytes: number;
}

/**
 * Fetches without following anybody elsewhere, and ends what takes too long or says too much.
 *
 * @returns the answer with its whole body read, up to `mostBytes` of it
 * @throws Error `TimeoutError`, or a TypeError with the network's code in its `cause`
 */
export async function boundedFetch(url: string, init: RequestInit, bounds: FetchBounds): Promise<Response> {
  const answer = await fetch(url, { ...init, redirect: 'manual', signal: AbortSignal.timeout(bounds.patienceMs) });
  const body = await firstBytes(answer, bounds.mostBytes);
  const { status, headers } = answer;
  return new Response(MAY_HAVE_NO_BODY.has(status) ? null : body, { status, headers });
}

/** Statuses with which a Response is given no body (Fetch, 2.2.3). */
const MAY_HAVE_NO_BODY: ReadonlySet<number> = new Set([101, 103, 204, 205, 304]);

async function firstBytes(answer: Response, most: number): Promise<Buffer<ArrayBuffer>> {
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  const reader = answer.body?.getReader();
  while (reader && bytes <= most) {
    const { done, value } = await reader.read();
    if (done) break;
    pieces.push(value);
    bytes += value.length;
  }
  await reader?.cancel();
  return Buffer.concat(pieces).subarray(0, most);
}
