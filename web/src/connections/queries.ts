import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api, ConnectionView } from '../api/types';

export const connectionKeys = { list: ['connections'] as const };

export const useConnections = (enabled = true) =>
  useQuery({ queryKey: connectionKeys.list, enabled, queryFn: () => api.get<ConnectionView[]>('/connections') });

/** Connections that lead to services, to databases, or to queues. */
export function useConnectionsOf(kind: 'soap' | 'database' | 'queue'): ConnectionView[] {
  return (useConnections().data ?? []).filter((c) => c.kind === kind);
}

/** Whether a connection leads to that address in some environment. */
export const leadsTo = (c: ConnectionView, address: string | undefined) =>
  !!address && Object.values(c.environments).some((s) => s.url === address);

export const useCertificates = () =>
  useQuery({ queryKey: ['certificates'], queryFn: () => api.get<Api<'CertificateView'>[]>('/certificates') });

export const useSecrets = (enabled = true) =>
  useQuery({ queryKey: ['secrets'], enabled, queryFn: () => api.get<Api<'SecretsView'>>('/secrets') });

const STATE_MILLIS = 3_000;

/** How a connection stands at this moment, by environment. */
export const useConnectionState = (name: string, enabled: boolean) =>
  useQuery({
    queryKey: ['connection-state', name],
    enabled,
    refetchInterval: STATE_MILLIS,
    queryFn: () => api.get<Api<'ConnectionState'>[]>(`/connections/${seg(name)}/state`),
  });
