import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { ScheduleSettings, TimesView, TriggerView } from '../api/types';

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
