import { ApiProblem, seg } from '../api/client';
import type { OpenedPage, PageAnswer } from '../api/types';

const AGAIN_MILLIS = 1_500;

/** The key of a link stands behind the # of the address, which is sent to nobody. */
export const linkOf = (hash: string): string | undefined =>
  new URLSearchParams(hash.replace(/^#/, '')).get('k') ?? undefined;

const headers = (link: string | undefined, others: Record<string, string> = {}): Record<string, string> => ({
  'X-Wire-Kettle': '1',
  ...(link === undefined ? {} : { 'X-Page-Link': link }),
  ...others,
});

async function fetched(path: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(`/api/pages/${path}`, init);
  } catch (e) {
    if ((e as Error).name === 'AbortError') throw e;
    throw new ApiProblem(0, 'network', 'The server cannot be reached.');
  }
}

async function problem(r: Response): Promise<ApiProblem> {
  let said: { detail?: string; code?: string } = {};
  try {
    said = (await r.json()) as typeof said;
  } catch {
    /* not ours: a proxy's page, say */
  }
  return new ApiProblem(r.status, said.code ?? `http.${r.status}`, said.detail ?? 'The server cannot be reached.');
}

/** What a page asks for. */
export async function opened(page: string, link: string | undefined, signal: AbortSignal): Promise<OpenedPage> {
  const r = await fetched(seg(page), { headers: headers(link), signal });
  if (!r.ok) throw await problem(r);
  return (await r.json()) as OpenedPage;
}

/** One asking: whatever happens on the way, it is known again by its number. */
export interface Asking {
  number: string;
  body: string;
  /** When it was begun. */
  at: number;
}

/**
 * Asks until there is an answer: when the line breaks, or the server takes its time, the same is asked again, and what
 * came of the first is told.
 *
 * @param onAway told while the server cannot be reached
 */
export async function ask(
  page: string,
  link: string | undefined,
  asking: Asking,
  signal: AbortSignal,
  onAway: (isAway: boolean) => void,
): Promise<PageAnswer> {
  for (;;) {
    const said = await once(page, link, asking, signal);
    if (said !== 'away' && said.outcome !== 'WORKING') return said;
    onAway(said === 'away');
    await new Promise((done) => setTimeout(done, AGAIN_MILLIS));
    if (signal.aborted) throw new DOMException('left', 'AbortError');
  }
}

async function once(
  page: string,
  link: string | undefined,
  asking: Asking,
  signal: AbortSignal,
): Promise<PageAnswer | 'away'> {
  let r: Response;
  let text: string;
  try {
    r = await fetch(`/api/pages/${seg(page)}/ask`, {
      method: 'POST',
      headers: headers(link, { 'Content-Type': 'application/json', 'Idempotency-Key': asking.number }),
      body: asking.body,
      signal,
    });
    text = await r.text();
  } catch (e) {
    if ((e as Error).name === 'AbortError') throw e;
    return 'away';
  }
  try {
    const said = JSON.parse(text) as PageAnswer & { detail?: string; code?: string };
    if (said.outcome !== undefined) return said;
    throw new ApiProblem(r.status, said.code ?? `http.${r.status}`, said.detail ?? 'It did not work.');
  } catch (e) {
    if (e instanceof ApiProblem) throw e;
    // What stands between may give up before the server does.
    if (r.status >= 500) return 'away';
    throw new ApiProblem(r.status, `http.${r.status}`, `It did not work (${r.status}).`);
  }
}

/** Saves an answer as a workbook. */
export async function saveWorkbook(page: string, link: string | undefined, number: string): Promise<void> {
  const r = await fetched(`${seg(page)}/answers/${seg(number)}`, { headers: headers(link) });
  if (!r.ok) throw await problem(r);
  save(await r.blob(), `${page}.xlsx`);
}

/** Has the browser save something. */
export function save(what: Blob, name: string) {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(what);
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000);
}

const PREFIX = 'wk.asking.';

/** An asking under way survives that the page is loaded again, as phones do. `whose`: the page, and who asks. */
export const kept = {
  read(whose: string): Asking | undefined {
    try {
      const text = sessionStorage.getItem(PREFIX + whose);
      return text ? (JSON.parse(text) as Asking) : undefined;
    } catch {
      return undefined;
    }
  },
  write(whose: string, asking: Asking | undefined) {
    try {
      if (asking) sessionStorage.setItem(PREFIX + whose, JSON.stringify(asking));
      else sessionStorage.removeItem(PREFIX + whose);
    } catch {
      /* too large to be kept: then it is only known to this page */
    }
  },
};
