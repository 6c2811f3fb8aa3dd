import { api, seg } from '../api/client';
import type { ConnectionView } from '../api/types';
import { leadsTo } from './queries';

/** What a connection is called that is made for a contract. */
export const connectionName = (contract: string) =>
  contract
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'service';

/**
 * The connection to call a contract's port over: one that leads to its address, or one made for it.
 * Undefined when the port has no address and there is no connection at all.
 */
export async function connectionFor(
  contract: string,
  address: string | undefined,
  services: ConnectionView[],
): Promise<{ name: string; made: boolean } | undefined> {
  const known = services.find((c) => leadsTo(c, address));
  if (known) return { name: known.name, made: false };
  if (!address) return services.length ? { name: services[0].name, made: false } : undefined;
  // One of that name leads elsewhere: calls must not go there unasked.
  const wanted = connectionName(contract);
  let name = wanted;
  for (let n = 2; services.some((c) => c.name === name); n++) name = `${wanted}-${n}`;
  await api.put(`/connections/${seg(name)}`, { kind: 'soap', environments: { test: { url: address } } });
  return { name, made: true };
}
