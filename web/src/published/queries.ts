import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type {
  EndpointView,
  KeyView,
  PageForm,
  PageTrigger,
  OperationPath,
  ScheduleSettings,
  TimesView,
  TriedEndpoint,
  TriggerView,
} from '../api/types';

export const triggerKeys = { all: ['triggers'] as const };

/** All triggers, with what came of the latest thing each was due for. */
export const useTriggers = () =>
  useQuery({
    queryKey: triggerKeys.all,
    queryFn: () => api.get<TriggerView[]>('/triggers'),
    refetchInterval: 5_000,
  });

/** One with its latest starts. */
export const useTrigger = (name?: string) =>
  useQuery({
    queryKey: [...triggerKeys.all, name],
    enabled: !!name,
    queryFn: () => api.get<TriggerView>(`/triggers/${seg(name ?? '')}`),
    refetchInterval: 5_000,
  });

/** What a schedule comes to while it is typed. */
export const useTimes = (settings: ScheduleSettings) =>
  useQuery({
    queryKey: ['schedule-times', settings],
    queryFn: () => api.post<TimesView>('/triggers/times', settings),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const endpointKeys = { all: ['endpoints'] as const };

/** What is asked over HTTP, with its traffic. */
export const useEndpoints = () =>
  useQuery({
    queryKey: endpointKeys.all,
    queryFn: () => api.get<EndpointView[]>('/endpoints'),
    refetchInterval: 3_000,
  });

export const keyKeys = { all: ['keys'] as const };

/** Keys of those who ask. */
export const useKeys = () => useQuery({ queryKey: keyKeys.all, queryFn: () => api.get<KeyView[]>('/keys') });

/** The operations of a contract that could be asked, each with a path. */
export const useOperationPaths = (contract?: string) =>
  useQuery({
    queryKey: ['operation-paths', contract],
    enabled: !!contract,
    queryFn: () => api.get<OperationPath[]>(`/contracts/${seg(contract ?? '')}/endpoints`),
  });

/** What a page would look like, while it is made. */
export const usePageForm = (flow: number | undefined, environment: string, page: PageTrigger, version?: number) =>
  useQuery({
    queryKey: ['page-form', flow, environment, version, page],
    enabled: flow !== undefined && !!page.title.trim(),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => api.post<PageForm>('/endpoints/page-form', { flow, environment, version, page }),
  });

/** The request by which a sample is given. */
export const useRequest = (e: EndpointView, sample: string) =>
  useQuery({
    queryKey: ['endpoint-request', e.name, e.changedAt, e.state, e.version, sample],
    enabled: e.state === 'ready',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => api.post<TriedEndpoint>(`/endpoints/${seg(e.name)}/request`, { sample }),
  });
