import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Field } from '../api/types';
import { useEnvironment } from '../app/environment';
import type { TargetKind, TargetWish } from './kinds';

/** Makes it, with its place when that is not there. */
export function useMakeTarget(kind: TargetKind, fields: Field[] | undefined, onMade: (name: string) => void) {
  const queries = useQueryClient();
  const environment = useEnvironment();
  return useMutation({
    mutationFn: async (w: TargetWish) => {
      await kind.prepare?.(w, fields, environment);
      const name = kind.name(w);
      await api.put(`/data/targets/${seg(name)}`, { kind: kind.kind, settings: kind.settings(w, fields) });
      return name;
    },
    onSuccess: async (name) => {
      await queries.invalidateQueries();
      onMade(name);
    },
  });
}
