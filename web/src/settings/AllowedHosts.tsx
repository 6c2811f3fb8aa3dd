import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText } from '../common/ui';

type Entry = Api<'OutboundEntry'>;

/** Where calls may go: hosts, ports, networks. */
export function AllowedHosts() {
  const queries = useQueryClient();
  const kept = useQuery({ queryKey: ['outbound'], queryFn: () => api.get<Api<'OutboundList'>>('/settings/outbound') });
  const [draft, setDraft] = useState<Entry[]>();
  const save = useMutation({
    mutationFn: (entries: Entry[]) => api.put('/settings/outbound', entries),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['outbound'] });
      setDraft(undefined);
    },
  });
  if (kept.isError) return <ErrorText error={kept.error} />;
  if (!kept.data) return null;
  const entries = draft ?? kept.data.entries;
  const put = (at: number, e: Entry) => setDraft(entries.map((x, i) => (i === at ? e : x)));
  return (
    <>
      <p className="soft">
        Calls go to public hosts, and to this machine or private networks only when they are listed here: a host
        (berths.example, berths.example:8443), all below a domain (.example), a network (10.20.0.0/16), or the words
        loopback, private, jdbc. With listed-only public hosts have to be listed, too.
        {kept.data.isOfStart && ' Nobody has changed yet what the start says.'}
      </p>
      <table className="grid settings-table">
        <thead>
          <tr>
            <th>may be called</th>
            <th>why</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {entries.map((e, i) => (
            <tr key={i}>
              <td>
                <Input
                  size="small"
                  className="mono"
                  aria-label={`host ${i + 1}`}
                  value={e.entry}
                  onChange={(x) => put(i, { ...e, entry: x.target.value })}
                />
              </td>
              <td>
                <Input
                  size="small"
                  aria-label={`why host ${i + 1}`}
                  value={e.note ?? ''}
                  onChange={(x) => put(i, { ...e, note: x.target.value || undefined })}
                />
              </td>
              <td>
                <Button
                  size="small"
                  type="text"
                  aria-label={`remove ${e.entry}`}
                  onClick={() => setDraft(entries.filter((_, j) => j !== i))}
                >
                  remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row settings-gap">
        <Button onClick={() => setDraft([...entries, { entry: '' }])}>Add a host</Button>
        <Button type="primary" disabled={!draft} loading={save.isPending} onClick={() => save.mutate(entries)}>
          Keep
        </Button>
        {save.isError && <ErrorText error={save.error} />}
      </div>
    </>
  );
}
