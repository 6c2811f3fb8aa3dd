import { api, seg } from '../api/client';
import type { ConnectionView } from '../api/types';
import { leadsTo } from './queries';

/** What a connection is called that is made for a contract. */
export const connectionName = (contract: string) => contract.toLowerCase().replace(/[^a-z0-9]+/g, '-');

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
  const name = connectionName(contract);
  if (services.some((c) => c.name === name)) return { name, made: false };
  await api.put(`/connections/${seg(name)}`, { kind: 'soap', settings: { urls: { test: address } } });
  return { name, made: true };
}
