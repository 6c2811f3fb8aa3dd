import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { api } from '../api/client';
import type { RunView } from '../api/types';

/** A run, followed while it is running. */
export function useRun(id?: number): RunView | undefined {
  const queries = useQueryClient();
  const run = useQuery({ queryKey: ['run', id], enabled: id !== undefined, queryFn: () => api.get<RunView>(`/runs/${id}`), staleTime: 0 });
  const running = run.data?.state === 'running';
  useEffect(() => {
    if (!running) return undefined;
    const events = new EventSource(`/api/runs/${id}/events`);
    events.onmessage = (e) => {
      const view = JSON.parse(e.data) as RunView;
      queries.setQueryData(['run', id], view);
      if (view.state !== 'running') {
        events.close();
        for (const key of ['runs', 'tray', 'charts', 'target-preview', 'overview', 'trail']) void queries.invalidateQueries({ queryKey: [key] });
      }
    };
    // The browser connects again by itself; what is shown meanwhile is the last that was known.
    return () => events.close();
  }, [running, id, queries]);
  return id === undefined ? undefined : run.data;
}
