import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { ContractItem, ContractView, Use } from '../api/types';

export const contractKeys = {
  list: ['contracts'] as const,
  one: (name: string | undefined, version: string | null = null) => ['contract', name, version] as const,
  uses: ['uses'] as const,
};

export const useContracts = (enabled = true) =>
  useQuery({ queryKey: contractKeys.list, enabled, queryFn: () => api.get<ContractItem[]>('/contracts') });

/** @param version null for the current one */
export const useContract = (name: string | undefined, version: string | null = null) =>
  useQuery({
    queryKey: contractKeys.one(name, version),
    enabled: !!name,
    queryFn: () => api.get<ContractView>(`/contracts/${seg(name ?? '')}${version ? `?version=${seg(version)}` : ''}`),
  });

/** All call steps of all flows, by the contract they use. */
export const useUses = () =>
  useQuery({ queryKey: contractKeys.uses, queryFn: () => api.get<Use[]>('/contracts/uses') });
