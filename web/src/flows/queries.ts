import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type {
  Field,
  Api,
  Flow,
  FlowCheck,
  FlowView,
  FunctionView,
  PickTrial,
  PickView,
  Specimen,
  StepOf,
  TriedCall,
} from '../api/types';
import { useRested } from '../common/useRested';
import { before, type Where } from './where';

export const flowKeys = {
  list: ['flows'] as const,
  one: (id: number) => ['flow', id] as const,
  allVersions: (id: number) => ['flow-versions', id] as const,
  versions: (id: number, current: number) => ['flow-versions', id, current] as const,
  check: (flow: Flow, environment: string) => ['flow-check', flow, environment] as const,
  specimen: (source: string | undefined, environment: string, n: number) =>
    ['specimen', source, environment, n] as const,
  fill: (...of: unknown[]) => ['fill', ...of] as const,
  trial: (...of: unknown[]) => ['fill-trial', ...of] as const,
  pick: (...of: unknown[]) => ['pick', ...of] as const,
  kept: (flow: number, step?: string) => (step === undefined ? ['kept', flow] : ['kept', flow, step]),
};

export const useFlows = (enabled = true) =>
  useQuery({ queryKey: flowKeys.list, enabled, queryFn: () => api.get<FlowView[]>('/flows') });

export const useFlow = (id: number) =>
  useQuery({ queryKey: flowKeys.one(id), queryFn: () => api.get<FlowView>(`/flows/${id}`), staleTime: Infinity });

/** Newest first, a page at a time. @param current the newest one's number; another one is another list */
export const useVersions = (id: number, current: number, enabled: boolean) =>
  useInfiniteQuery({
    queryKey: flowKeys.versions(id, current),
    enabled,
    placeholderData: keepPreviousData,
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) =>
      api.get<Api<'FlowVersion'>[]>(`/flows/${id}/versions${pageParam ? `?before=${pageParam}` : ''}`, signal),
    // Only of the oldest there is nothing to be said against the one before it.
    getNextPageParam: (page) => (page.at(-1)?.changes ? page.at(-1)?.version : undefined),
  });

export const useFlowCheck = (flow: Flow, environment: string) =>
  useQuery({
    queryKey: flowKeys.check(flow, environment),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.post<FlowCheck>(`/flows/check?environment=${seg(environment)}`, flow, signal),
  });

export function useSpecimen(where: Where) {
  const read = where.definition.steps.find((s): s is StepOf<'read'> => s.kind === 'read' && !!s.source);
  const receive = where.definition.steps.find((s): s is StepOf<'receive'> => s.kind === 'receive');
  const from = read?.source ?? (receive && JSON.stringify([receive.inputs, receive.samples]));
  return useQuery({
    queryKey: flowKeys.specimen(from, where.environment, where.number),
    enabled: !!from,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Specimen>('/design/specimen', where, signal),
  });
}

/** Has the specimen's source read again. */
export function useReadAgain(where: Where) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => api.post('/design/specimen/again', where),
    onSuccess: () => {
      for (const key of ['specimen', 'flow-check', 'fill', 'fill-trial', 'pick'])
        void queries.invalidateQueries({ queryKey: [key] });
    },
  });
}

/** What a step sees depends on the steps before it, and on the part. */
export const stepsBefore = (w: Where) => [before(w), w.part];

export const usePick = (step: StepOf<'pick'>, where: Where) =>
  useQuery({
    queryKey: flowKeys.pick(step, where.flow, where.number, where.environment, stepsBefore(where)),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<PickView>('/design/pick', where, signal),
  });

/** The pick on the answers of the flow's latest run; by itself, when it has changed and typing rests. */
export function usePickTrial(step: StepOf<'pick'> | undefined, where: Where) {
  const asked = useRested(JSON.stringify({ step, before: before(where) }), REST_MILLIS);
  const isNow = asked === JSON.stringify({ step, before: before(where) });
  return useQuery({
    queryKey: ['pick-trial', asked, where.flow, where.environment],
    enabled: !!step && isNow,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 60_000,
    queryFn: ({ signal }) => api.post<PickTrial>('/design/pick/trial', where, signal),
  });
}

/** How long typing rests before many answers are looked at. */
const REST_MILLIS = 400;

/** The fields of the rows that a write step writes; none when they are not known. */
export const useWritten = (step: StepOf<'write'>, where: Where) =>
  useQuery({
    queryKey: ['written', step.from, step.columns, where.environment, before(where)],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Field[]>('/design/written', where, signal),
  });

/** Looks at a record of a run with what its calls were answered there. */
export function useTakeAnswers(where: Where, then: (number: number) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ run, number }: { run: number; number: number }) =>
      api.post(`/design/${where.flow}/answers/of/${run}/${number}`),
    onSuccess: (_, { number }) => {
      void queries.invalidateQueries({ queryKey: flowKeys.kept(where.flow) });
      for (const key of COMPUTED) void queries.invalidateQueries({ queryKey: [key] });
      then(number);
    },
  });
}

export const useKeptAnswer = (flow: number, step: string | undefined) =>
  useQuery({
    queryKey: flowKeys.kept(flow, step),
    enabled: !!step,
    retry: false,
    queryFn: () => api.get<TriedCall>(`/design/${flow}/answers/${seg(step ?? '')}`).catch(() => null),
  });

const COMPUTED = ['pick', 'look', 'evaluate', 'fill'];

/** The specimen before and after the step. */
export const useLookAt = (where: Where) =>
  useQuery({
    queryKey: ['look', where.flow, where.step, where.number, where.environment, before(where, true), where.part],
    enabled: !!where.step,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Api<'LookView'>>('/design/look', where, signal),
  });

/** Makes the calls up to the step that have no kept answer. */
export function useRunTo(where: Where) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => api.post<Api<'LookView'>>('/design/run-to', where),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: flowKeys.kept(where.flow) });
      for (const key of COMPUTED) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
}

/** Makes a call step's call for the specimen; its answer is kept. */
export function useTryCall(where: Where, step: string | undefined, then?: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => api.post<TriedCall>('/design/try', { ...where, step }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: flowKeys.kept(where.flow) });
      for (const key of COMPUTED) void queries.invalidateQueries({ queryKey: [key] });
      then?.();
    },
  });
}

export const useFunctions = () =>
  useQuery({
    queryKey: ['functions'],
    queryFn: () => api.get<FunctionView[]>('/design/functions'),
    staleTime: Infinity,
  });

export const useEvaluated = (where: Where, xpath: string | undefined) =>
  useQuery({
    queryKey: ['evaluate', xpath, where.number, where.environment, where.step, stepsBefore(where)],
    enabled: !!xpath,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.post<Api<'Evaluated'>>('/design/xpath', { at: where, xpath }, signal),
  });
