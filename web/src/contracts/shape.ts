import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { ShapeRow } from '../api/types';

export interface ShapeWish {
  /** A shape of the project, instead of an operation's message. */
  document?: string;
  contract: string;
  version?: number;
  port?: string;
  operation: string;
  part: string;
  kinds: Record<string, string>;
  opened: string[];
  occurrences?: Record<string, number>;
}

/** A message's shape, as rows. `kinds`, `opened` and `occurrences` change what is laid out. */
export function useShape({ contract, ...wish }: ShapeWish, enabled = true) {
  return useQuery({
    queryKey: ['shape', contract, wish],
    enabled,
    queryFn: () => api.post<{ rows: ShapeRow[] }>(`/contracts/${seg(contract)}/shape`, wish).then((r) => r.rows),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });
}

/** What a row of a shape is called on the pages. */
export function name(r: ShapeRow): string {
  const plain = r.label ?? r.name;
  const called = r.kind === 'attribute' ? `@${plain}` : (WORDS[r.kind] ?? (r.header ? `header ${plain}` : plain));
  return called + (r.occurrence ? ` ${r.occurrence}` : '');
}

const WORDS: Record<string, string> = {
  'any attribute': '@any attribute',
  choice: 'one of',
  group: 'group',
  any: 'any element',
};
