import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { pretty } from '../common/layout';

/** The element in the body of an example request, as XML; empty for an empty body. */
export async function requestSample(
  contract: string,
  version: number | undefined,
  port: string | undefined,
  operation: string,
): Promise<string> {
  const { envelope } = await api.post<Api<'ExampleText'>>(`/contracts/${seg(contract)}/example`, {
    port,
    operation,
    part: 'request',
    full: false,
    version,
  });
  const body = [...new DOMParser().parseFromString(envelope, 'application/xml').documentElement.children].find(
    (e) => e.localName === 'Body',
  );
  const first = body?.firstElementChild;
  return first ? pretty(new XMLSerializer().serializeToString(first)) : '';
}
