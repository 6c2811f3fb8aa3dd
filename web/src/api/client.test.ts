import { afterEach, describe, expect, it, vi } from 'vitest';
import { api, ApiProblem, isAway, whenLoggedOut } from './client';

function answers(status: number, body: string, url = 'http://wk/api/flows') {
  const asked = vi.fn(() =>
    Promise.resolve({ ok: status < 300, status, url, text: () => Promise.resolve(body) } as Response),
  );
  vi.stubGlobal('fetch', asked);
  return asked as unknown as { mock: { calls: [string, RequestInit][] } };
}
const refused = (p: Promise<unknown>) =>
  p.then(
    () => undefined,
    (e: unknown) => e as ApiProblem,
  );

afterEach(() => vi.unstubAllGlobals());

describe('the API', () => {
  it('is asked with a header that other sites cannot send, and answers with what it says', async () => {
    const asked = answers(200, '{"id":7}');
    expect(await api.post('/flows', { name: 'Tides' })).toEqual({ id: 7 });
    const [path, init] = asked.mock.calls[0];
    expect(path).toBe('/api/flows');
    expect(init.headers).toEqual({ 'X-Wire-Kettle': '1', 'Content-Type': 'application/json' });
    expect(init.body).toBe('{"name":"Tides"}');
  });
  it('answers with nothing where there is nothing', async () => {
    answers(204, '');
    expect(await api.put('/flows/1', {})).toBeUndefined();
  });
  it('sends files as they are', async () => {
    const asked = answers(200, '{}');
    const file = new Blob(['a;b']);
    await api.post('/data/files', file);
    expect(asked.mock.calls[0][1].body).toBe(file);
    expect((asked.mock.calls[0][1].headers as Record<string, string>)['Content-Type']).toBe('application/octet-stream');
  });
  it('finishes sending what was typed last after the page has gone, unless it is long', async () => {
    const asked = answers(204, '');
    await api.put('/flows/1', { name: 'x' });
    await api.put('/flows/1', { name: 'x'.repeat(30_000) });
    await api.get('/flows');
    expect(asked.mock.calls.map(([, init]) => init.keepalive)).toEqual([true, false, false]);
  });
});

describe('a problem', () => {
  it('has the words, the code and the place that the server gives', async () => {
    answers(422, '{"detail":"It is broken.","code":"contract.xml","place":{"document":"a.wsdl","line":3}}');
    const e = await refused(api.get('/contracts'));
    expect(e).toMatchObject({ status: 422, code: 'contract.xml', message: 'It is broken.' });
    expect(e?.place).toEqual({ document: 'a.wsdl', line: 3 });
    expect(isAway(e)).toBe(false);
  });
  it('is said in words when somebody else answers', async () => {
    answers(502, '<html>Bad gateway</html>');
    const e = await refused(api.get('/contracts'));
    expect(e).toMatchObject({ code: 'http.502', message: 'The server answered with HTTP status 502.' });
    expect(isAway(e)).toBe(true);
    answers(413, '');
    expect((await refused(api.post('/data/files')))?.message).toContain('more than the server takes');
  });
  it('is a server that is away when nobody answers, but not when the page gave up itself', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('failed')));
    expect(isAway(await refused(api.get('/flows')))).toBe(true);
    const aborted = Object.assign(new Error('stop'), { name: 'AbortError' });
    vi.stubGlobal('fetch', () => Promise.reject(aborted));
    expect(await refused(api.get('/flows'))).toBe(aborted);
  });
  it('tells when the session is over, except where a log-in is tried', async () => {
    const over = vi.fn();
    whenLoggedOut(over);
    answers(401, '{}', 'http://wk/api/session');
    await refused(api.get('/session'));
    expect(over).not.toHaveBeenCalled();
    answers(401, '{}');
    await refused(api.get('/flows'));
    expect(over).toHaveBeenCalledOnce();
  });
});
