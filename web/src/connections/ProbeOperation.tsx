import { useMutation, useQuery } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { millis } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import css from './ProbePanel.module.css';

/** The last stage, if it is wanted: one operation that does no harm, with values that are kept for it. */
export function ProbeOperation({ connection, environment }: { connection: string; environment: string }) {
  const key = `wk.probe.1.${connection}`;
  const [chosen, setChosen] = useState(() => localStorage.getItem(key) ?? undefined);
  const sets = useQuery({ queryKey: ['test-values'], queryFn: () => api.get<Api<'NamedValues'>[]>('/test-values') });
  const options = (sets.data ?? []).map((s) => ({ value: JSON.stringify(s), label: `${s.operation}, ${s.name}` }));
  const call = useMutation({
    mutationFn: () => {
      const s = JSON.parse(chosen ?? '{}') as Api<'NamedValues'>;
      const wish = { environment, contract: s.contract, operation: s.operation, values: s.name };
      return api.post<Api<'ProbedOperation'>>(`/probe/${seg(connection)}/operation`, wish);
    },
  });
  if (!options.length)
    return (
      <p className="soft small">
        An operation can follow, once values to try it with are kept: <i>values</i> on its Bench.
      </p>
    );
  const isThere = options.some((o) => o.value === chosen);
  return (
    <div className={css.operation}>
      <div className="row">
        <Select
          size="small"
          className={css.set}
          aria-label={`operation to try in ${environment}`}
          placeholder="an operation that does no harm"
          value={isThere ? chosen : undefined}
          onChange={(v: string) => {
            setChosen(v);
            localStorage.setItem(key, v);
          }}
          options={options}
        />
        <Button size="small" disabled={!isThere} loading={call.isPending} onClick={() => call.mutate()}>
          Call it
        </Button>
      </div>
      {call.isError && <ErrorText error={call.error} />}
      {call.data && (
        <p>
          <Status mood={call.data.isGood ? 'ok' : 'bad'}>{call.data.code ?? call.data.text}</Status>{' '}
          {call.data.code && <span className="soft">{call.data.text}</span>}{' '}
          <span className="soft num small">{millis(call.data.micros / 1000)}</span>
          {call.data.todo && <span className="soft small"> {call.data.todo}</span>}
        </p>
      )}
    </div>
  );
}
