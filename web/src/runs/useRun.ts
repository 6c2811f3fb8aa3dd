import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api } from '../api/client';
import type { RunView } from '../api/types';

/** Events come several times a second; when none came for so long, the server is not there. */
const SILENCE_MILLIS = 3_000;
const AGAIN_MILLIS = 1_500;
const AFTER_A_RUN = ['runs', 'tray', 'charts', 'target-preview', 'overview', 'trail'];

/** A run, followed while it is running. `lost` while the server does not answer; following goes on by itself. */
export function useFollowedRun(id?: number): { run?: RunView; lost: boolean } {
  const queries = useQueryClient();
  const [lost, setLost] = useState(false);
  const query = useQuery({
    queryKey: ['run', id],
    enabled: id !== undefined,
    queryFn: () => api.get<RunView>(`/runs/${id}`),
    staleTime: 0,
    refetchInterval: (q) => (q.state.status === 'error' ? AGAIN_MILLIS : false),
  });
  const running = query.data?.state === 'running';
  useEffect(() => {
    if (!running) return undefined;
    let events: EventSource | undefined;
    let heard = Date.now();
    const open = () => {
      events?.close();
      events = new EventSource(`/api/runs/${id}/events`);
      events.onmessage = (e: MessageEvent<string>) => {
        heard = Date.now();
        setLost(false);
        const view = JSON.parse(e.data) as RunView;
        queries.setQueryData(['run', id], view);
        if (view.state !== 'running') {
          events?.close();
          for (const key of AFTER_A_RUN) void queries.invalidateQueries({ queryKey: [key] });
        }
      };
    };
    open();
    const watch = setInterval(() => {
      if (Date.now() - heard < SILENCE_MILLIS) return;
      setLost(true);
      // Somebody who has been logged out meanwhile is told so by this, not by silence.
      api
        .get<RunView>(`/runs/${id}`)
        .then((view) => {
          queries.setQueryData(['run', id], view);
          open();
        })
        .catch(() => undefined);
    }, AGAIN_MILLIS);
    return () => {
      clearInterval(watch);
      events?.close();
      setLost(false);
    };
  }, [running, id, queries]);
  return { run: id === undefined ? undefined : query.data, lost: lost || (query.isError && running) };
}

export const useRun = (id?: number): RunView | undefined => useFollowedRun(id).run;
