import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';
import type { RunView } from '../api/types';

export const runKeys = {
  all: ['runs'] as const,
  ofFlow: (flow: number | null) => ['runs', flow] as const,
  one: (id: number | undefined) => ['run', id] as const,
  /** Of all reasons, or of one; anew whenever the run's counts change. */
  trays: (id: number) => ['tray', id] as const,
  tray: (run: RunView, code?: string) => ['tray', run.id, code, run.setAside, run.inDoubt] as const,
  charts: (id: number, read?: number) => ['charts', id, read] as const,
};

/** @param flow null for the runs of all flows */
export const useRuns = (flow: number | null, { enabled = true, everyMillis = 0 } = {}) =>
  useQuery({
    queryKey: runKeys.ofFlow(flow),
    enabled,
    refetchInterval: everyMillis || false,
    staleTime: 0,
    queryFn: () => api.get<RunView[]>(flow === null ? '/runs' : `/runs?flow=${flow}`),
  });
