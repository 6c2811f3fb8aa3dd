import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';

export type AboutThing = Api<'About'>;
export type AboutKind = 'contract' | 'operation' | 'connection' | 'source' | 'target' | 'shape' | 'flow';
const KEY = ['about'] as const;

export const nothing = (kind: AboutKind, name: string): AboutThing => ({
  kind,
  name,
  description: '',
  labels: [],
  notes: '',
  marked: false,
});

/** What is said about the things of the project. */
export function useAbout() {
  const all = useQuery({ queryKey: KEY, queryFn: () => api.get<AboutThing[]>('/about') }).data ?? [];
  return {
    /** What is said about one thing; nothing, when nothing is. */
    of: (kind: AboutKind, name: string) => all.find((a) => a.kind === kind && a.name === name) ?? nothing(kind, name),
    /** All labels in use on things of a kind, in order. */
    labels: (kind: AboutKind) => [...new Set(all.filter((a) => a.kind === kind).flatMap((a) => a.labels))].sort(),
  };
}

export function usePutAbout() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ kind, name, ...said }: AboutThing) =>
      api.put(`/about/${seg(kind)}/${name.split('/').map(seg).join('/')}`, said),
    // Shown at once; what the server refuses is taken back.
    onMutate: (said) => {
      const before = queries.getQueryData<AboutThing[]>(KEY);
      const rest = (before ?? []).filter((a) => a.kind !== said.kind || a.name !== said.name);
      queries.setQueryData<AboutThing[]>(KEY, [...rest, said]);
      return before;
    },
    onError: (_, __, before) => queries.setQueryData(KEY, before),
    onSettled: () => queries.invalidateQueries({ queryKey: KEY }),
  });
}

/** Whether a thing has all labels that a list is filtered by. */
export const fitsLabels = (about: AboutThing, wanted: string[]) => wanted.every((l) => about.labels.includes(l));
