/** What the server says when something cannot be done (RFC 9457). */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly place?: { document?: string; line?: number; column?: number } | null,
  ) {
    super(message);
  }
}

let onLoggedOut: () => void = () => undefined;
export const whenLoggedOut = (f: () => void) => {
  onLoggedOut = f;
};

async function answer<T>(r: Response): Promise<T> {
  const text = await r.text();
  if (r.ok) return (text ? JSON.parse(text) : undefined) as T;
  if (r.status === 401 && !r.url.endsWith('/api/session')) onLoggedOut();
  let p: { detail?: string; code?: string; place?: { document?: string; line?: number; column?: number } } = {};
  try {
    p = JSON.parse(text) as typeof p;
  } catch {
    /* not ours: a proxy's page, say */
  }
  const words =
    r.status === 413
      ? 'That is more than the server takes at once (256 MB).'
      : `The server answered with HTTP status ${r.status}.`;
  throw new ApiProblem(r.status, p.code ?? `http.${r.status}`, p.detail ?? words, p.place);
}

/**
 * What browsers finish sending after a page has gone (the Fetch standard's limit for keep-alive requests, with some
 * room).
 */
const KEEPALIVE_CHARS = 20_000;

async function request<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  const raw = body instanceof Blob;
  const text = body === undefined || raw ? undefined : JSON.stringify(body);
  let r: Response;
  try {
    r = await fetch(`/api${path}`, {
      method,
      signal,
      keepalive: method === 'PUT' && text !== undefined && text.length <= KEEPALIVE_CHARS,
      headers: {
        'X-Wire-Kettle': '1',
        ...(body === undefined ? {} : { 'Content-Type': raw ? 'application/octet-stream' : 'application/json' }),
      },
      body: raw ? body : text,
    });
  } catch (e) {
    if ((e as Error).name === 'AbortError') throw e;
    throw new ApiProblem(0, 'network', 'The server cannot be reached. Is it running?');
  }
  return answer<T>(r);
}

export const api = {
  get: <T>(path: string, signal?: AbortSignal) => request<T>('GET', path, undefined, signal),
  post: <T>(path: string, body?: unknown, signal?: AbortSignal) => request<T>('POST', path, body ?? {}, signal),
  put: <T>(path: string, body: unknown) => request<T>('PUT', path, body),
  delete: (path: string) => request<void>('DELETE', path),
};

export const seg = encodeURIComponent;

/** Whether the server, or its database, is away for now: what failed may simply be tried again later. */
export const isAway = (e: unknown) =>
  e instanceof ApiProblem && (e.status === 0 || e.status === 502 || e.status === 503 || e.status === 504);
