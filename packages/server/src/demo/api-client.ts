/** The server's API as the demo's filling uses it: the same that the web app has. */
export interface ApiClient {
  get<T>(path: string): Promise<T>;
  post<T>(path: string, body?: unknown): Promise<T>;
  put<T>(path: string, body?: unknown): Promise<T>;
  patch<T>(path: string, body?: unknown): Promise<T>;
  remove(path: string): Promise<void>;
  upload<T>(path: string, name: string, file: string | Uint8Array<ArrayBuffer>): Promise<T>;
}

export function apiClient(origin: string): ApiClient {
  const call = async <T>(
    method: string,
    path: string,
    init: { body?: string | Uint8Array<ArrayBuffer>; headers?: Record<string, string> } = {},
  ): Promise<T> => {
    const response = await fetch(`${origin}/api${path}`, {
      method,
      body: init.body ?? null,
      headers: { 'x-baton': '1', ...init.headers },
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return (text === '' ? undefined : JSON.parse(text)) as T;
  };
  const json = (body: unknown) => ({
    body: JSON.stringify(body ?? {}),
    headers: { 'content-type': 'application/json' },
  });
  return {
    get: (path) => call('GET', path),
    post: (path, body) => call('POST', path, json(body)),
    put: (path, body) => call('PUT', path, json(body)),
    patch: (path, body) => call('PATCH', path, json(body)),
    remove: (path) => call('DELETE', path),
    upload: (path, name, file) =>
      call('POST', path, {
        body: file,
        headers: { 'content-type': 'text/csv', 'x-file-name': encodeURIComponent(name) },
      }),
  };
}
