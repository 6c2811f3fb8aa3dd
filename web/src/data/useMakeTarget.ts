import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Field } from '../api/types';
import { useEnvironment } from '../app/environment';
import { targetName, type TargetWish } from './targetWish';

/** Makes it, with its table when that is not there. */
export function useMakeTarget(fields: Field[] | undefined, onMade: (name: string) => void) {
  const queries = useQueryClient();
  const environment = useEnvironment();
  return useMutation({
    mutationFn: async (w: TargetWish) => {
      const { connection, table } = w;
      if (w.kind === 'sql' && !w.exists && fields)
        await api.post('/data/tables', { connection, environment, table, fields });
      const settings =
        w.kind === 'sql'
          ? { connection, table }
          : {
              file: w.file.trim(),
              replace: w.replace,
              columns: fields?.map((f) => f.label) ?? [],
              format: { delimiter: w.delimiter, quote: '"', encoding: 'UTF-8', header: true },
            };
      await api.put(`/data/targets/${seg(targetName(w))}`, { kind: w.kind, settings });
      return targetName(w);
    },
    onSuccess: async (name) => {
      await queries.invalidateQueries();
      onMade(name);
    },
  });
}
