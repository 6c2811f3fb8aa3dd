import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, InputNumber } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { plural } from '../common/format';
import { ErrorText, Status } from '../common/ui';

type Days = Api<'Days'>;
const LIMITS = [
  {
    key: 'exchangesEach' as const,
    label: 'Exchanges of each operation',
    unit: 'the newest',
    most: 1000,
    about: 'of what was sent from the Bench',
  },
  {
    key: 'exchangeKilobytes' as const,
    label: 'Largest exchange',
    unit: 'kB',
    most: 65536,
    about: 'request and answer together; larger ones are shown once, and not kept',
  },
];
const KEPT: { key: 'runs' | 'exchanges' | 'uploads' | 'audit'; label: string; about: string }[] = [
  {
    key: 'runs',
    label: 'Finished runs',
    about: 'with their trails; never those with waiting records, nor those that can go on',
  },
  { key: 'exchanges', label: 'Exchanges of the Bench', about: 'what was sent by hand, and the answers' },
  { key: 'uploads', label: 'Uploaded files', about: 'those that no source and no open run reads' },
  { key: 'audit', label: 'Audit log', about: 'who changed or ran what' },
];

export function Retention() {
  const queries = useQueryClient();
  const kept = useQuery({ queryKey: ['retention'], queryFn: () => api.get<Days>('/settings/retention') });
  const [days, setDays] = useState<Days>();
  const save = useMutation({
    mutationFn: (d: Days) => api.put<Api<'Removed'>>('/settings/retention', d),
    onSuccess: () => queries.invalidateQueries(),
  });
  const shown = days ?? kept.data;
  const r = save.data;
  if (kept.isError) return <ErrorText error={kept.error} />;
  if (!shown) return null;
  return (
    <>
      <p className="soft">What is older is removed, once an hour and when these change.</p>
      <table className="grid settings-table">
        <thead>
          <tr>
            <th>what</th>
            <th>days</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {KEPT.map((k) => (
            <tr key={k.key}>
              <td>{k.label}</td>
              <td>
                <InputNumber
                  size="small"
                  min={1}
                  max={36500}
                  aria-label={`days for ${k.label}`}
                  value={shown[k.key]}
                  onChange={(v) => v && setDays({ ...shown, [k.key]: v })}
                />
              </td>
              <td className="soft">{k.about}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className="grid settings-table settings-gap">
        <thead>
          <tr>
            <th>of the Bench</th>
            <th>at most</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {LIMITS.map((k) => (
            <tr key={k.key}>
              <td>{k.label}</td>
              <td>
                <InputNumber
                  size="small"
                  min={1}
                  max={k.most}
                  aria-label={k.label}
                  value={shown[k.key]}
                  onChange={(v) => v && setDays({ ...shown, [k.key]: v })}
                />{' '}
                <span className="soft small">{k.unit}</span>
              </td>
              <td className="soft">{k.about}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row settings-gap">
        <Button type="primary" disabled={!days} loading={save.isPending} onClick={() => save.mutate(shown)}>
          Keep
        </Button>
        {r && (
          <Status mood="ok">
            removed: {plural(r.runs, 'run')}, {plural(r.exchanges, 'exchange')}, {plural(r.uploads, 'file')},{' '}
            {plural(r.audit, 'entry', 'entries')}
          </Status>
        )}
        {save.isError && <ErrorText error={save.error} />}
      </div>
    </>
  );
}
