import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ConnectionView } from '../api/types';
import { connectionFor, connectionName } from './names';

const service = (name: string, url: string) =>
  ({ name, kind: 'soap', settings: {}, environments: { test: { url } } }) as unknown as ConnectionView;
const made = vi.fn<(path: string, init: RequestInit) => Promise<Response>>(() =>
  Promise.resolve({ ok: true, status: 204, url: '', text: () => Promise.resolve('') } as Response),
);
vi.stubGlobal('fetch', made);

afterEach(() => made.mockClear());

describe('the connection of a port', () => {
  const desk = service('desk', 'http://127.0.0.1/tides');
  it('is the one that leads to its address', async () => {
    const other = service('other', 'http://127.0.0.1/dues');
    expect(await connectionFor('TideDesk', 'http://127.0.0.1/tides', [other, desk])).toEqual({
      name: 'desk',
      made: false,
    });
    expect(made).not.toHaveBeenCalled();
  });
  it('is made when none leads there', async () => {
    expect(await connectionFor('Tide Desk', 'http://127.0.0.1/new', [desk])).toEqual({ name: 'tide-desk', made: true });
    const [path, init] = made.mock.calls[0];
    expect(path).toBe('/api/connections/tide-desk');
    expect(init.body).toBe('{"kind":"soap","environments":{"test":{"url":"http://127.0.0.1/new"}}}');
  });
  it('gets another name when one of that name leads elsewhere', async () => {
    const same = service('tidedesk', 'http://127.0.0.1/elsewhere');
    expect(await connectionFor('TideDesk', 'http://127.0.0.1/new', [same])).toEqual({
      name: 'tidedesk-2',
      made: true,
    });
    expect(made.mock.calls[0][0]).toBe('/api/connections/tidedesk-2');
  });
  it('is the first there is when the port has no address', async () => {
    expect(await connectionFor('TideDesk', undefined, [desk])).toEqual({ name: 'desk', made: false });
    expect(await connectionFor('TideDesk', undefined, [])).toBeUndefined();
  });
  it('is called after the contract', () => {
    expect(connectionName('Harbour Dues (old)')).toBe('harbour-dues-old');
    expect(connectionName('潮')).toBe('service');
  });
});
