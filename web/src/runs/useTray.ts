import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, FlowView, RunView, Tray, Waiting } from '../api/types';
import { runKeys } from './queries';
import { answeredOf, fieldsOf, ofStep, toSend } from './tray';

/** The records of a run that wait: which are shown, which are chosen, and how they are mended and sent again. */
export function useTray(run: RunView, step?: string) {
  const queries = useQueryClient();
  const [code, setCode] = useState<string>();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const mends = useRef(new Set<Promise<Waiting>>());
  const tray = useQuery({
    queryKey: runKeys.tray(run, code),
    placeholderData: keepPreviousData,
    queryFn: () => api.get<Tray>(`/runs/${run.id}/aside${code ? `?code=${seg(code)}` : ''}`),
  });
  const flow = useQuery({
    queryKey: ['flow', run.flow],
    enabled: run.flow != null,
    retry: false,
    staleTime: Infinity,
    queryFn: () => api.get<FlowView>(`/flows/${run.flow}`),
  });
  const again = useMutation({
    mutationFn: async (callAgain: boolean) => {
      // What is being mended arrives before its record is sent; a mend that fails is shown there, and nothing is sent.
      await Promise.all(mends.current);
      const fresh = await tray.refetch({ throwOnError: true });
      const numbers = toSend(ofStep(fresh.data?.records, step), chosen);
      if (numbers.length) await api.post(`/runs/${run.id}/again`, { numbers, callAgain });
    },
    onSuccess: () => {
      setChosen(new Set());
      setCode(undefined);
      void queries.invalidateQueries({ queryKey: runKeys.one(run.id) });
    },
  });
  const settle = useMutation({
    mutationFn: (how: { verdict: string; reason: string }) =>
      api.post(`/runs/${run.id}/settle`, { ...how, numbers: [...chosen] }),
    onSuccess: () => {
      setChosen(new Set());
      for (const key of [runKeys.one(run.id), runKeys.trays(run.id), ['trail', run.id]])
        void queries.invalidateQueries({ queryKey: key });
    },
  });
  const ask = useMutation({
    mutationFn: (numbers: number[]) => api.post<Api<'Finding'>[]>(`/runs/${run.id}/ask`, { numbers }),
  });
  const mend = (number: number, field: string, value: string): Promise<Waiting> => {
    const sent = api.put<Waiting>(`/runs/${run.id}/aside/${number}`, { [field]: value });
    mends.current.add(sent);
    return sent.finally(() => {
      mends.current.delete(sent);
      void queries.invalidateQueries({ queryKey: runKeys.trays(run.id) });
    });
  };
  const records = ofStep(tray.data?.records, step);
  const reasons = ofStep(tray.data?.reasons, step);
  const numbers = toSend(records, chosen);
  return {
    isEmpty: tray.data?.reasons.length === 0,
    records,
    reasons,
    fields: fieldsOf(records, reasons, flow.data),
    code,
    setCode,
    chosen,
    choose: (all: boolean) => setChosen(new Set(all ? records.map((r) => r.number) : [])),
    toggle: (n: number) =>
      setChosen((c) => {
        const next = new Set(c);
        if (!next.delete(n)) next.add(n);
        return next;
      }),
    numbers,
    answered: answeredOf(records, numbers),
    settle,
    ask,
    canSend: run.canSend,
    mend,
    again,
  };
}

export type TrayState = ReturnType<typeof useTray>;
