import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api } from '../../api/client';
import type { Api, FillView, ShapeRow } from '../../api/types';
import { flowKeys, stepsBefore } from '../queries';
import type { Where } from '../where';
import type { Filling } from './filling';

/** The rows of a shape are many and rarely change: those of the last fill are not sent again. */
let lastRows: { key: string; rows: ShapeRow[] } | undefined;

async function fillOf(asked: Where, signal: AbortSignal): Promise<FillView> {
  const known = lastRows;
  const fill = await api.post<Api<'FillView'>>('/design/fill', { ...asked, knownRows: known?.key }, signal);
  const rows = fill.rows ?? known?.rows ?? [];
  lastRows = { key: fill.rowsKey, rows };
  return { ...fill, rows };
}

/** The fill as it is in {@code asked}, for its record. */
export const useFill = (filling: Filling, asked: Where) =>
  useQuery({
    queryKey: flowKeys.fill(filling.key, [asked.opened, asked.number, asked.environment], stepsBefore(asked)),
    enabled: filling.isReady,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => fillOf(asked, signal),
  });

/** The fill as a stylesheet, once it is asked for. */
export const useStylesheet = (filling: Filling, where: Where, isWanted: boolean) =>
  useQuery({
    queryKey: ['stylesheet', filling.key, where.environment, stepsBefore(where)],
    enabled: isWanted,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Api<'Stylesheet'>>('/design/fill/stylesheet', where, signal),
  });

const trialKey = (filling: Filling, where: Where) => flowKeys.trial(filling.key, where.environment, stepsBefore(where));

/** Fills the first records without calling, by itself once the fill is complete. */
export const useTrial = (filling: Filling, where: Where, complete: boolean) =>
  useQuery({
    queryKey: trialKey(filling, where),
    enabled: complete,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 60_000,
    queryFn: ({ signal }) => api.post<Api<'FillTrial'>>('/design/fill/trial', where, signal),
  });

/** Likewise all of them, when asked for; what was tried stays until the fill changes. */
export function useTrialOfAll(filling: Filling, where: Where) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => api.post<Api<'FillTrial'>>('/design/fill/trial/all', where),
    onSuccess: (tried) => queries.setQueryData(trialKey(filling, where), tried),
  });
}
