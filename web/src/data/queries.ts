import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Field, Preview, SourceView, TargetView } from '../api/types';

export const dataKeys = {
  sources: ['sources'] as const,
  targets: ['targets'] as const,
  sourcePreview: (name: string | undefined, environment: string) => ['source-preview', name, environment] as const,
  targetPreview: (name: string | undefined, environment: string) => ['target-preview', name, environment] as const,
  columns: (target: string | undefined, environment: string) => ['target-columns', target, environment] as const,
};

export const useSources = (enabled = true) =>
  useQuery({ queryKey: dataKeys.sources, enabled, queryFn: () => api.get<SourceView[]>('/data/sources') });

export const useTargets = (enabled = true) =>
  useQuery({ queryKey: dataKeys.targets, enabled, queryFn: () => api.get<TargetView[]>('/data/targets') });

export const useSourcePreview = (name: string | undefined, environment: string) =>
  useQuery({
    queryKey: dataKeys.sourcePreview(name, environment),
    enabled: !!name,
    retry: false,
    queryFn: () =>
      api.get<Preview>(`/data/sources/${seg(name ?? '')}/preview?environment=${seg(environment)}&limit=200`),
  });

export const useTargetColumns = (target: string | undefined, environment: string) =>
  useQuery({
    queryKey: dataKeys.columns(target, environment),
    enabled: !!target,
    retry: false,
    queryFn: () => api.get<Field[]>(`/data/targets/${seg(target ?? '')}/columns?environment=${seg(environment)}`),
  });
