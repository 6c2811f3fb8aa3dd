import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../../api/client';
import type { Api } from '../../api/types';
import { newOperation, tidy, type HandMade, type HandOperation } from './handMade';

/** A contract made by hand while it is edited. @param kept null for a new one */
export function useHandMade(name: string, kept: HandMade | null) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [called, setCalled] = useState(name);
  const [made, setMade] = useState<HandMade>(kept ?? { operations: [newOperation([])] });
  const [at, setAt] = useState(0);
  const operations = made.operations;
  const chosen = operations[Math.min(at, operations.length - 1)];
  const put = (all: HandOperation[]) => setMade((m) => ({ ...m, operations: all }));
  const keep = useMutation({
    mutationFn: () =>
      api.put<Api<'Imported'>>(`/contracts/${seg(called.trim())}/by-hand`, {
        ...made,
        address: made.address?.trim() || undefined,
        operations: operations.map(tidy),
      }),
    onSuccess: async (r) => {
      await queries.invalidateQueries();
      void go(`/contracts/${seg(r.name)}/HTTP/${seg(chosen.name.trim())}`);
    },
  });
  const wish = tidy(chosen);
  const preview = useQuery({
    queryKey: ['by-hand', wish],
    queryFn: ({ signal }) =>
      api.post<Api<'HandMadePreview'>>(`/contracts/${seg(called.trim() || 'new')}/by-hand/preview`, wish, signal),
    placeholderData: (before) => before,
  });
  return {
    called,
    setCalled,
    made,
    setAddress: (address: string) => setMade((m) => ({ ...m, address })),
    operations,
    chosen,
    choose: setAt,
    edit: (change: Partial<HandOperation>) => put(operations.map((o) => (o === chosen ? { ...o, ...change } : o))),
    add: () => {
      put([...operations, newOperation(operations)]);
      setAt(operations.length);
    },
    remove: () => {
      put(operations.filter((o) => o !== chosen));
      setAt((n) => Math.max(0, n - 1));
    },
    preview: preview.data,
    keep,
  };
}

export type HandMadeModel = ReturnType<typeof useHandMade>;
