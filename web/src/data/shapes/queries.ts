import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api } from '../../api/client';
import type { Api, DocumentShape } from '../../api/types';

export const shapeKeys = { all: ['shapes'] as const };

export const useShapes = (enabled = true) =>
  useQuery({ queryKey: shapeKeys.all, enabled, queryFn: () => api.get<DocumentShape[]>('/data/shapes') });

export type ShapeSettings = Api<'ShapeSettings'>;

/** A schema as it is understood while it is edited. */
export const useReadShape = (kind: string, settings: ShapeSettings, opened: string[]) =>
  useQuery({
    queryKey: ['read-shape', kind, settings, opened],
    enabled: settings.files.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Api<'ReadShape'>>('/data/shapes/read', { kind, settings, opened }, signal),
  });
