import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api } from '../api/client';
import type { Flow, FlowView, OperationView } from '../api/types';
import { freeName } from '../common/freeName';
import { ErrorText } from '../common/ui';
import { requestSample } from './requestSample';

interface Props {
  contract: string;
  version: number;
  port: string;
  operation: OperationView;
}

/** Begins a flow that answers the operation in its service's place. */
export function AnswerByFlow({ contract, version, port, operation: o }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: async () => {
      const json = await requestSample(contract, version, port, o.name);
      const request = { contract, version, port, operation: o.name };
      const receive = { id: 's1', kind: 'receive' as const, inputs: [], samples: [{ name: 'example', json }], request };
      const reply = { id: 's2', kind: 'reply' as const, columns: [], fill: [] };
      const definition: Flow = { format: 2, steps: o.answerFields === undefined ? [receive] : [receive, reply] };
      const taken = (await api.get<FlowView[]>('/flows')).map((f) => f.name);
      return api.post<{ id: number }>('/flows', { name: freeName(`Answers ${o.name}`, taken), definition });
    },
    onSuccess: async (r) => {
      await queries.invalidateQueries();
      void go(`/flows/${r.id}`);
    },
  });
  return (
    <>
      <button className="link soft small nowrap" disabled={make.isPending} onClick={() => make.mutate()}>
        answer it by a flow
      </button>
      {make.isError && <ErrorText error={make.error} />}
    </>
  );
}
