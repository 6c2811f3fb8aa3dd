import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../../../api/client';
import type { Api } from '../../../api/types';
import { when } from '../../../common/format';
import { Field } from '../../../common/Field';
import { ErrorText } from '../../../common/ui';

type Kept = Api<'KeptView'>;

/** What the flow keeps between its runs; a value may be changed, so that the next run begins elsewhere. */
export function KeptValues({ flow }: { flow: number }) {
  const key = ['kept-values', flow];
  const queries = useQueryClient();
  const kept = useQuery({ queryKey: key, queryFn: () => api.get<Kept[]>(`/flows/${flow}/kept`) });
  const change = useMutation({
    mutationFn: ({ name, value }: { name: string; value: string | null }) =>
      value === null
        ? api.delete(`/flows/${flow}/kept/${seg(name)}`)
        : api.put(`/flows/${flow}/kept/${seg(name)}`, { value }),
    onSuccess: () => queries.invalidateQueries({ queryKey: key }),
  });
  if (!kept.data?.length)
    return (
      <Field label="Kept now">
        <span className="soft small">nothing yet; the first run that is done keeps it</span>
      </Field>
    );
  return (
    <Field label="Kept now">
      <table className="grid">
        <tbody>
          {kept.data.map((k) => (
            <Row key={k.name} kept={k} change={(value) => change.mutate({ name: k.name, value })} />
          ))}
        </tbody>
      </table>
      {change.isError && <ErrorText error={change.error} />}
    </Field>
  );
}

function Row({ kept, change }: { kept: Kept; change: (value: string | null) => void }) {
  const [text, setText] = useState<string>();
  const end = () => {
    if (text !== undefined && text !== kept.value) change(text);
    setText(undefined);
  };
  return (
    <tr>
      <td className="mono">$kept/{kept.name}</td>
      <td>
        <Input
          size="small"
          className="mono"
          aria-label={`kept ${kept.name}`}
          value={text ?? kept.value}
          onChange={(e) => setText(e.target.value)}
          onBlur={end}
          onPressEnter={end}
        />
      </td>
      <td className="soft small nowrap">
        {kept.changedBy}, {when(kept.changedAt)}
      </td>
      <td>
        <button className="link soft small" onClick={() => change(null)}>
          forget
        </button>
      </td>
    </tr>
  );
}
